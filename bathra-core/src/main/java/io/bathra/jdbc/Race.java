package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.UniqueViolation;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import java.util.Collection;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Work that looks at what is there and inserts what is not: somebody else may be faster, so that it has to be done
 * again.
 */
public final class Race {
    private Race() {}

    /**
     * One attempt.
     *
     * @param <T> the answer
     */
    @FunctionalInterface
    public interface Attempt<T extends @Nullable Object> {
        /**
         * Looks and writes.
         *
         * @param again whether somebody else was faster before; then what is read has to be read as it is now, and held
         * @throws UniqueViolation when somebody else was faster
         * @throws Outrun when it is seen in another way
         */
        T run(boolean again);
    }

    /** Somebody else was faster, so what was read is not so any more. */
    public static final class Outrun extends BathraException {
        public Outrun(String message) {
            super(message);
        }
    }

    /**
     * Does work again when somebody else was faster.
     *
     * @param attempts how often at the most; the last failure is thrown
     * @param keys what tells whether a row is there; a violation of anything else is final at once
     */
    public static <T extends @Nullable Object> T run(int attempts, Collection<UniqueKey> keys, Attempt<T> attempt) {
        for (int i = 1; ; i++) {
            try {
                return attempt.run(i > 1);
            } catch (UniqueViolation e) {
                if (i == attempts || !mayBeOf(e, keys)) {
                    throw e;
                }
            } catch (Outrun e) {
                if (i == attempts) {
                    throw new ConcurrentChangeException("write", List.of(String.valueOf(e.getMessage())), List.of());
                }
            }
        }
    }

    /** Whether a violation is, or might be, one of these keys. */
    public static boolean mayBeOf(UniqueViolation violation, Collection<UniqueKey> keys) {
        List<String> violated = violation.place().attributes();
        return violated.isEmpty() || keys.stream().anyMatch(key -> names(key).equals(violated));
    }

    private static List<String> names(UniqueKey key) {
        return key.attributes().stream().map(StoredAttribute::name).toList();
    }
}
