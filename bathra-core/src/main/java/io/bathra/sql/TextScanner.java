package io.bathra.sql;

import io.bathra.error.BathraException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** Finds the named parameters and the words of a statement, and passes over literals, quoted names and comments. */
final class TextScanner {
    private final Lexis lexis;
    private final String text;
    private final List<String> pieces = new ArrayList<>();
    private final List<String> parameters = new ArrayList<>();
    private final List<String> words = new ArrayList<>();

    private int at;
    private Compound compound = new Compound();

    /** Whether the semicolon that ends a statement has been passed. */
    private boolean ended;

    /** Where the piece of text that is being read began. */
    private int pieceFrom;

    TextScanner(Lexis lexis, String text) {
        this.lexis = lexis;
        this.text = text;
    }

    /** The statement, which is the only one in the text. */
    PlainText scan() {
        int end = text.length();
        while (at < text.length()) {
            step(text.charAt(at));
            end = ended ? at - 1 : end;
            if (ended && !isBlank(at)) {
                throw new BathraException(
                        "there are several statements in one text, of which databases execute all, one"
                                + " or none; give each a call of its own, or all of them to script(...)\n  statement: "
                                + text);
            }
        }
        pieces.add(text.substring(pieceFrom, end));
        return new PlainText(text, pieces, parameters, words);
    }

    /** The texts of several statements. */
    List<String> split() {
        List<String> statements = new ArrayList<>();
        int from = 0;
        while (at < text.length()) {
            step(text.charAt(at));
            if (ended) {
                if (!words.isEmpty()) {
                    statements.add(text.substring(from, at - 1));
                }
                from = at;
                begin();
            }
        }
        if (!words.isEmpty()) {
            statements.add(text.substring(from));
        }
        return statements;
    }

    private void begin() {
        ended = false;
        compound = new Compound();
        words.clear();
    }

    /** Whether nothing but blanks, semicolons and comments follows. */
    private boolean isBlank(int from) {
        at = from;
        while (at < text.length()) {
            char c = text.charAt(at);
            int comment = comment(c);
            if (comment < 0 && c != ';' && !Character.isWhitespace(c)) {
                return false;
            }
            at = comment < 0 ? at + 1 : comment;
        }
        return true;
    }

    /** Where a comment that begins here ends; below 0 for none. */
    private int comment(char c) {
        boolean executed = lexis.executedComments() && (text.startsWith("/*!", at) || text.startsWith("/*M!", at));
        if (text.startsWith("/*", at) && !executed) {
            return endOfComment();
        }
        boolean dashes = text.startsWith("--", at)
                && (!lexis.dashesNeedBlank() || at + 2 == text.length() || text.charAt(at + 2) <= ' ');
        if (dashes || (c == '#' && lexis.hashComments())) {
            int end = text.indexOf('\n', at);
            return end < 0 ? text.length() : end;
        }
        return -1;
    }

    private void step(char c) {
        int comment = comment(c);
        if (comment >= 0) {
            at = comment;
        } else if (c == ';') {
            at++;
            ended = compound.isWhole();
        } else if (c == '\'' || (c == '"' && lexis.backslashEscapes())) {
            int end = endOfLiteral(c, lexis.backslashEscapes());
            if (c == '"') { // a name, where the session says so
                words.add(text.substring(at + 1, end - 1).toLowerCase(Locale.ROOT));
            }
            at = end;
        } else if (c == '"' || c == '`') {
            int end = endOfQuoted(c);
            words.add(text.substring(at + 1, end - 1).toLowerCase(Locale.ROOT));
            at = end;
        } else if (c == '$' && lexis.dollarQuotes() && dollarTag() != null) {
            at = endOfDollarQuoted(String.valueOf(dollarTag()));
        } else if (text.startsWith("::", at) || text.startsWith("??", at)) {
            at += 2;
        } else if (c == ':' && at + 1 < text.length() && isNameStart(text.charAt(at + 1))) {
            parameter();
        } else if (c == '?') {
            throw new BathraException("a placeholder has no name; write :name in place of ?\n  statement: " + text);
        } else if (isNameStart(c)) {
            word();
        } else {
            at++;
        }
    }

    private void parameter() {
        pieces.add(text.substring(pieceFrom, at));
        int end = endOfName(at + 1);
        parameters.add(text.substring(at + 1, end));
        at = end;
        pieceFrom = end;
    }

    private void word() {
        int end = endOfName(at);
        String word = text.substring(at, end).toLowerCase(Locale.ROOT);
        if (word.equals("e") && lexis.escapePrefix() && end < text.length() && text.charAt(end) == '\'') {
            at = end;
            at = endOfLiteral('\'', true);
            return;
        }
        compound.word(word, words);
        words.add(word);
        at = end;
    }

    private static boolean isNameStart(char c) {
        return Character.isLetter(c) || c == '_';
    }

    private int endOfName(int from) {
        int end = from;
        while (end < text.length() && (isNameStart(text.charAt(end)) || Character.isDigit(text.charAt(end)))) {
            end++;
        }
        return end;
    }

    private int endOfLiteral(char mark, boolean backslashEscapes) {
        int end = at + 1;
        while (end < text.length()) {
            char c = text.charAt(end);
            if (c == '\\' && backslashEscapes) {
                end += 2;
            } else if (c != mark) {
                end++;
            } else if (end + 1 < text.length() && text.charAt(end + 1) == mark) {
                end += 2;
            } else {
                return end + 1;
            }
        }
        throw open("a literal");
    }

    private int endOfQuoted(char quote) {
        int end = text.indexOf(quote, at + 1);
        if (end < 0) {
            throw open("a quoted name");
        }
        return end + 1;
    }

    private int endOfComment() {
        int depth = 0;
        int end = at;
        while (end < text.length()) {
            if (text.startsWith("/*", end) && (depth == 0 || lexis.nestedComments())) {
                depth++;
                end += 2;
            } else if (text.startsWith("*/", end)) {
                depth--;
                end += 2;
                if (depth == 0) {
                    return end;
                }
            } else {
                end++;
            }
        }
        throw open("a comment");
    }

    /** {@code $$} or {@code $tag$} at this place; null when the sign means something else. */
    private @Nullable String dollarTag() {
        int end = at + 1;
        while (end < text.length() && (Character.isLetterOrDigit(text.charAt(end)) || text.charAt(end) == '_')) {
            end++;
        }
        boolean tag = end < text.length() && text.charAt(end) == '$' && !Character.isDigit(text.charAt(at + 1));
        return tag ? text.substring(at, end + 1) : null;
    }

    private int endOfDollarQuoted(String tag) {
        int end = text.indexOf(tag, at + tag.length());
        if (end < 0) {
            throw open("a literal");
        }
        return end + tag.length();
    }

    private BathraException open(String what) {
        return new BathraException(
                what + " that begins at character " + (at + 1) + " does not end\n  statement: " + text);
    }
}
