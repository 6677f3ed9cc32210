package io.bathra.answer;

/** How a query treats changes that are pending in its unit of work. */
public enum Pending {
    /** Those to the tables that the query touches are flushed first. */
    FLUSH,
    /**
     * Nothing is written, and no constraint applies: the database answers as if the changes were stored, and nobody
     * else sees them. Pending objects come back as themselves. A new object has no key before it is stored, so its key
     * is missing where values are selected, though links between new objects are followed; nor has it what only the
     * database makes.
     */
    OVERLAY,
    /** The answer is that of the database as it is. */
    IGNORE
}
