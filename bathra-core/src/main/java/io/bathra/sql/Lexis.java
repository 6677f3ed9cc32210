package io.bathra.sql;

/**
 * How a database reads the text of a statement, as far as databases differ.
 *
 * @param backslashEscapes whether a backslash in a literal takes the next character with it
 * @param hashComments whether a {@code #} begins a comment
 * @param dollarQuotes whether {@code $$} or {@code $tag$} quotes a literal
 * @param escapePrefix whether {@code E} in front of a literal makes backslashes escape in it
 * @param nestedComments whether a comment can stand in another
 * @param dashesNeedBlank whether {@code --} begins a comment only in front of a blank
 * @param executedComments whether a comment that begins with an exclamation mark is executed
 */
record Lexis(
        boolean backslashEscapes,
        boolean hashComments,
        boolean dollarQuotes,
        boolean escapePrefix,
        boolean nestedComments,
        boolean dashesNeedBlank,
        boolean executedComments) {
    /** The SQL standard's own. */
    static final Lexis STANDARD = new Lexis(false, false, false, false, true, false, false);
}
