package io.bathra.sql;

import java.util.List;

/**
 * Rows that may be in the way of a step.
 *
 * @param what what is wrong with them
 * @param count asks how many there are
 * @param rows asks for the first ten: the columns, and behind them how often they are there, where that is what is wrong
 * @param table the table that they are in
 * @param columns the columns that are shown of them
 */
public record Offence(String what, String count, String rows, String table, List<String> columns) {
    public Offence {
        columns = List.copyOf(columns);
    }
}
