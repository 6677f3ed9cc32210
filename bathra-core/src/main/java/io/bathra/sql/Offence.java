package io.bathra.sql;

import java.util.List;

/**
 * Rows that may be in the way of a step.
 *
 * @param what what is wrong with them
 * @param count asks how many there are
 * @param rows asks for the first ten
 * @param table the table that they are in
 * @param columns the columns that are shown of them
 */
public record Offence(String what, String count, String rows, String table, List<String> columns) {
    public Offence {
        columns = List.copyOf(columns);
    }
}
