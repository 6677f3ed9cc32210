package io.bathra.attr;

/** What happens to a row when the row that it refers to is deleted, in the words of SQL. */
public enum DeleteRule {
    /** The deletion is refused. */
    RESTRICT,
    /** The foreign key becomes empty. */
    SET_NULL,
    /** The row goes too. */
    CASCADE
}
