package io.bathra.mapping;

/** Where the keys of new entities come from. */
public sealed interface KeySource {
    /** The database draws them, for this table alone. */
    KeySource GENERATED = new Generated();

    /** The program sets them before the flush. */
    KeySource ASSIGNED = new Assigned();

    /** Bathra makes them: UUIDs that sort by the time at which they were made. */
    KeySource TIME_ORDERED = new TimeOrdered();

    /** Whether a new object gets its key during the flush. */
    default boolean isDrawn() {
        return !(this instanceof Assigned);
    }

    record Generated() implements KeySource {}

    record Assigned() implements KeySource {}

    record TimeOrdered() implements KeySource {}

    /**
     * A sequence of the database, each value of which stands for a block of keys.
     *
     * @param name the sequence's name, unquoted
     * @param block how many keys a value stands for: the sequence's increment
     */
    record Sequence(String name, int block) implements KeySource {}

    /**
     * A table that holds the next key of each entity.
     *
     * @param name the table's name, unquoted
     * @param startAt the first key of an entity
     */
    record KeyTable(String name, long startAt) implements KeySource {
        /** The column with the name of the entity's table. */
        public static final String OWNER = "owner";

        /** The column with the next key. */
        public static final String NEXT_KEY = "next_key";
    }
}
