package io.bathra.sql;

/**
 * Rows that may be in the way of a step.
 *
 * @param what what is wrong with them, with a place for how many there are
 * @param count asks how many there are
 * @param rows asks for the first ten
 */
public record Offence(String what, String count, String rows) {}
