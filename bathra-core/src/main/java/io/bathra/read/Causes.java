package io.bathra.read;

import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.question.Question;
import io.bathra.question.Words;
import io.bathra.text.Cause;
import java.util.function.Function;

/** What statements are executed for, and what would mend it where one runs again and again. */
public final class Causes {
    public static final Cause FLUSH =
            Cause.of("flush", "change all objects first, and flush once: a flush writes many rows by one statement");
    public static final Cause BULK = Cause.of(
            "bulk", "give all rows to one call, or a greater portion(...): a portion is written by one statement");
    public static final Cause SQL =
            Cause.of("sql", "give all values at once: a collection for a list, or executeAll(...) for many rows");

    private Causes() {}

    static Cause find(ModelEntity<?> entity, Object key) {
        return new Cause() {
            @Override
            protected String words() {
                return "find " + entity.describe(key);
            }

            @Override
            protected String withoutValues() {
                return "find " + entity.name();
            }

            @Override
            protected String fix() {
                return "findAll(" + entity.name() + ".class, keys) finds many by one statement";
            }
        };
    }

    /** An association that is read for several owners. */
    static Cause read(Attribute association, int owners) {
        return new Cause() {
            @Override
            protected String words() {
                return "read " + association + " for " + owners;
            }

            @Override
            protected String fix() {
                return "read the owners by one query or findAll(...), so that " + association
                        + " is read for all of them at once"
                        + (association instanceof PartsAttribute
                                ? ""
                                : "; or say alongWith(" + association.accessor() + ") there");
            }
        };
    }

    /**
     * A question.
     *
     * @param what what is asked for, before the question itself
     * @param describe puts the question into words
     */
    static Cause query(String what, Question<?> question, Function<Question<?>, String> describe) {
        return new Cause() {
            @Override
            protected String words() {
                return what + describe.apply(question);
            }

            @Override
            protected String withoutValues() {
                return what + Words.WITHOUT_VALUES.of(question);
            }

            @Override
            protected String fix() {
                return "ask once for all: in(...) instead of is(...), a path over the link, or alongWith(...)";
            }
        };
    }
}
