package io.bathra.catalogue;

/**
 * Where a generator stands.
 *
 * @param next what it gives next at the latest
 * @param least what it gives next at the earliest; smaller where values have been taken aside and may not be used up
 */
record Standing(long next, long least) {
    /** It is there, but does not tell. */
    static final Standing UNKNOWN = new Standing(Long.MAX_VALUE, Long.MIN_VALUE);

    static Standing at(long next) {
        return new Standing(next, next);
    }
}
