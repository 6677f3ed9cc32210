package io.bathra.schema;

/** A check constraint as a database lists it: its name, and the condition in the database's own words. */
public record LiveCheck(String name, String condition) {}
