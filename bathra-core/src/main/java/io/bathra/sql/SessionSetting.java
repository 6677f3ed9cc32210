package io.bathra.sql;

/**
 * What a session is set to while changes are applied.
 *
 * @param question asks for what it is now, as it can be set again
 * @param setting sets it, with a value behind it
 */
public record SessionSetting(String question, String setting, String value) {}
