package io.bathra.attr;

/** Who carries a delete rule out. */
public enum Enforcer {
    /** The database, by the rule in the foreign key. */
    DATABASE,
    /** The unit of work, for a schema whose foreign keys have no such rule. */
    UNIT
}
