package io.bathra.sql;

import io.bathra.sql.DefinitionTokens.Token;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * A {@code create table} statement taken apart, for databases that tell some things about a table in no other way. Two
 * expressions that differ in blanks, comments, case of words and quotes around names have the same text here.
 */
public final class DefinitionText {
    private static final Set<String> TABLE_CONSTRAINTS = Set.of("constraint", "primary", "unique", "check", "foreign");

    /**
     * What the statement says about a column.
     *
     * @param byDefault the expression of its default
     * @param computed the expression that it is computed from
     */
    public record ColumnText(
            String name,
            @Nullable String byDefault,
            @Nullable String computed,
            @Nullable String collation) {}

    /**
     * A check constraint.
     *
     * @param name empty for none
     * @param column the column that it stands behind; null for a constraint of the table
     */
    public record CheckText(
            String name, String condition, @Nullable String column) {}

    private final List<ColumnText> columns = new ArrayList<>();
    private final List<CheckText> checks = new ArrayList<>();

    /** What is being read. */
    private List<Token> tokens = List.of();

    private int at;

    private DefinitionText() {}

    /** Takes a statement of a dialect apart. */
    public static DefinitionText of(Dialect dialect, String sql) {
        DefinitionText text = new DefinitionText();
        for (List<Token> part : DefinitionTokens.parts(dialect.lexis(), sql)) {
            text.read(part);
        }
        return text;
    }

    /** A name, as it stands in the expressions. */
    public static String name(String name) {
        return Token.name(name).text();
    }

    public List<ColumnText> columns() {
        return columns;
    }

    public List<CheckText> checks() {
        return checks;
    }

    private void read(List<Token> part) {
        tokens = part;
        at = 0;
        if (part.isEmpty()) {
            return;
        }
        boolean column =
                part.get(0).isName() || !TABLE_CONSTRAINTS.contains(part.get(0).text());
        String name = column ? next().plain() : null;
        String byDefault = null;
        String computed = null;
        String collation = null;
        String constraint = "";
        while (at < tokens.size()) {
            Token token = next();
            if (token.is("constraint")) {
                constraint = next().plain();
            } else if (token.is("default")) {
                byDefault = value();
            } else if (token.is("as")) {
                computed = group();
            } else if (token.is("collate")) {
                collation = next().plain();
            } else if (token.is("check")) {
                checks.add(new CheckText(constraint, group(), name));
                constraint = "";
            } else if (token.is("(")) {
                at--;
                group();
            }
        }
        if (name != null) {
            columns.add(new ColumnText(name, byDefault, computed, collation));
        }
    }

    private Token next() {
        return at < tokens.size() ? tokens.get(at++) : Token.END;
    }

    private Token peek() {
        return at < tokens.size() ? tokens.get(at) : Token.END;
    }

    /** A default: an expression in parentheses, or a literal, or the call of a function. */
    private String value() {
        if (peek().is("(")) {
            return group();
        }
        int from = at;
        if (peek().is("-") || peek().is("+")) {
            at++;
        }
        boolean prefix = !peek().isLiteral();
        at++;
        if (prefix && peek().isLiteral()) { // the kind or character set of a literal
            at++;
        }
        if (peek().is("(")) {
            skipGroup();
        }
        return DefinitionTokens.text(tokens.subList(from, Math.min(at, tokens.size())));
    }

    /** What stands in parentheses, without those that add nothing. */
    private String group() {
        int from = at;
        skipGroup();
        int to = at;
        while (to - from > 2 && tokens.get(from).is("(") && closes(from, to - 1)) {
            from++;
            to--;
        }
        return DefinitionTokens.text(tokens.subList(from, to));
    }

    private boolean closes(int open, int close) {
        int depth = 0;
        for (int i = open; i <= close; i++) {
            depth += tokens.get(i).is("(") ? 1 : tokens.get(i).is(")") ? -1 : 0;
            if (depth == 0) {
                return i == close;
            }
        }
        return false;
    }

    private void skipGroup() {
        int depth = 0;
        do {
            Token token = next();
            depth += token.is("(") ? 1 : token.is(")") ? -1 : 0;
        } while (depth > 0 && at < tokens.size());
    }
}
