package io.bathra.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** The words, names, literals and signs of a {@code create table} statement. */
final class DefinitionTokens {
    /** Words behind which a parenthesis begins an expression; behind others it begins what a function is given. */
    private static final Set<String> OPERATORS =
            Set.of("in", "and", "or", "not", "between", "like", "then", "when", "else", "is", "case", "glob", "as");

    private final Lexis lexis;
    private final String sql;
    private int at;

    private DefinitionTokens(Lexis lexis, String sql) {
        this.lexis = lexis;
        this.sql = sql;
    }

    /**
     * A piece of the statement.
     *
     * @param text as it stands in an expression: words in small letters, and names that need no quotes without them
     * @param plain a name without its quotes
     */
    record Token(String text, String plain, Kind kind) {
        enum Kind {
            WORD,
            NAME,
            LITERAL,
            SIGN
        }

        static final Token END = new Token("", "", Kind.SIGN);

        static Token name(String name) {
            String folded = name.toLowerCase(Locale.ROOT);
            boolean simple = !folded.isEmpty()
                    && !Character.isDigit(folded.charAt(0))
                    && folded.chars().allMatch(c -> c == '_' || (c >= '0' && c <= '9') || (c >= 'a' && c <= 'z'));
            return new Token(simple ? folded : '"' + folded.replace("\"", "\"\"") + '"', name, Kind.NAME);
        }

        /** A word or sign of the language, and no name. */
        boolean is(String word) {
            return (kind == Kind.WORD || kind == Kind.SIGN) && text.equals(word);
        }

        boolean isName() {
            return kind == Kind.NAME;
        }

        boolean isLiteral() {
            return kind == Kind.LITERAL;
        }
    }

    /** What stands between the commas in the statement's first parentheses, which describe the columns and constraints. */
    static List<List<Token>> parts(Lexis lexis, String sql) {
        List<List<Token>> parts = new ArrayList<>();
        List<Token> part = new ArrayList<>();
        int depth = 0;
        for (Token token : new DefinitionTokens(lexis, sql).all()) {
            if (token.is(")") && --depth == 0) {
                break;
            }
            if (depth == 1 && token.is(",")) {
                parts.add(part);
                part = new ArrayList<>();
            } else if (depth > 0) {
                part.add(token);
            }
            if (token.is("(")) {
                depth++;
            }
        }
        parts.add(part);
        return parts;
    }

    /** An expression as one text. */
    static String text(List<Token> tokens) {
        StringBuilder text = new StringBuilder();
        Token before = Token.END;
        for (Token token : tokens) {
            if (!before.text().isEmpty() && blankBetween(before, token)) {
                text.append(' ');
            }
            text.append(token.text());
            before = token;
        }
        return text.toString();
    }

    private static boolean blankBetween(Token before, Token token) {
        if (token.is(")") || token.is(",") || before.is("(") || token.is(".") || before.is(".")) {
            return false;
        }
        return !token.is("(") || before.kind() != Token.Kind.WORD || OPERATORS.contains(before.text());
    }

    private List<Token> all() {
        List<Token> tokens = new ArrayList<>();
        while (at < sql.length()) {
            char c = sql.charAt(at);
            if (Character.isWhitespace(c)) {
                at++;
            } else if (sql.startsWith("--", at)) {
                int end = sql.indexOf('\n', at);
                at = end < 0 ? sql.length() : end;
            } else if (sql.startsWith("/*", at)) {
                int end = sql.indexOf("*/", at + 2);
                at = end < 0 ? sql.length() : end + 2;
            } else {
                tokens.add(token(c));
            }
        }
        return tokens;
    }

    private Token token(char c) {
        int from = at;
        if (c == '\'') {
            at = endOfQuoted('\'', lexis.backslashEscapes());
            String text = sql.substring(from, at);
            return new Token(text, text, Token.Kind.LITERAL);
        }
        if (c == '"' || c == '`' || c == '[') {
            char end = c == '[' ? ']' : c;
            at = endOfQuoted(end, false);
            String twice = String.valueOf(end) + end;
            String inside = sql.substring(from + 1, Math.max(from + 1, at - 1));
            return Token.name(c == '[' ? inside : inside.replace(twice, String.valueOf(end)));
        }
        if (Character.isLetterOrDigit(c) || c == '_' || c > 127) {
            while (at < sql.length() && isPartOfWord(sql.charAt(at), Character.isDigit(c))) {
                at++;
            }
            String word = sql.substring(from, at);
            String folded = word.toLowerCase(Locale.ROOT);
            return new Token(folded, word, Character.isDigit(c) ? Token.Kind.LITERAL : Token.Kind.WORD);
        }
        at += isPair() ? 2 : 1;
        String sign = sql.substring(from, at);
        return new Token(sign, sign, Token.Kind.SIGN);
    }

    private static boolean isPartOfWord(char c, boolean number) {
        return Character.isLetterOrDigit(c) || c == '_' || c == '$' || c > 127 || (number && c == '.');
    }

    private boolean isPair() {
        return at + 1 < sql.length()
                && Set.of("<=", ">=", "<>", "!=", "==", "||", "->").contains(sql.substring(at, at + 2));
    }

    private int endOfQuoted(char mark, boolean backslashEscapes) {
        int end = at + 1;
        while (end < sql.length()) {
            char c = sql.charAt(end);
            if (c == '\\' && backslashEscapes) {
                end++;
            } else if (c == mark) {
                if (mark == ']' || end + 1 >= sql.length() || sql.charAt(end + 1) != mark) {
                    return end + 1;
                }
                end++;
            }
            end++;
        }
        return sql.length();
    }
}
