package io.bathra.read;

import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.text.Cause;
import java.util.function.Supplier;

/** What statements are executed for, and what would mend it where one runs again and again. */
public final class Causes {
    public static final Cause FLUSH = new Cause(
            () -> "flush", () -> "change all objects first, and flush once: a flush writes many rows by one statement");
    public static final Cause BULK = new Cause(
            () -> "bulk",
            () -> "give all rows to one call, or a greater portion(...): a portion is written by one statement");
    public static final Cause SQL = new Cause(
            () -> "sql", () -> "give all values at once: a collection for a list, or executeAll(...) for many rows");

    private Causes() {}

    static Cause find(ModelEntity<?> entity, Object key) {
        return new Cause(
                () -> "find " + entity.describe(key),
                () -> "find " + entity.name(),
                () -> "findAll(" + entity.name() + ".class, keys) finds many by one statement");
    }

    /** An association that is read for several owners. */
    static Cause read(Attribute association, int owners) {
        return new Cause(
                () -> "read " + association + " for " + owners,
                () -> "read the owners by one query or findAll(...), so that " + association
                        + " is read for all of them at once"
                        + (association instanceof PartsAttribute
                                ? ""
                                : "; or say alongWith(" + association.accessor() + ") there"));
    }

    static Cause query(Supplier<String> words, Supplier<String> withoutValues) {
        return new Cause(
                words,
                withoutValues,
                () -> "ask once for all: in(...) instead of is(...), a path over the link, or alongWith(...)");
    }
}
