package io.bathra.sql;

import io.bathra.attr.Secret;
import io.bathra.error.BathraException;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Gate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.StringJoiner;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * A statement in plain SQL, taken apart: what stands between its named parameters, and the words in it.
 *
 * @param pieces the text before, between and behind the parameters; one more than there are parameters
 * @param parameters their names, in order of appearance
 * @param words names and keywords in small letters, without literals and comments
 */
public record PlainText(String text, List<String> pieces, List<String> parameters, List<String> words) {
    private static final Set<String> READING = Set.of("select", "values", "with", "show", "explain", "table", "pragma");
    private static final Set<String> WRITING =
            Set.of("insert", "update", "delete", "merge", "replace", "into", "truncate");
    private static final Set<String> TRANSACTION_CONTROL =
            Set.of("begin", "start", "commit", "end", "rollback", "savepoint", "release", "abort");

    public PlainText {
        pieces = List.copyOf(pieces);
        parameters = List.copyOf(parameters);
        words = List.copyOf(words);
    }

    /**
     * Takes a statement apart.
     *
     * @throws BathraException when it is empty, begins or ends a transaction, has a placeholder without a name, or a
     * literal
     *     or comment that does not end
     */
    public static PlainText of(Dialect dialect, String text) {
        PlainText plain = new TextScanner(dialect.lexis(), text).scan();
        if (plain.words.isEmpty()) {
            throw new BathraException("the statement is empty: '" + text + "'");
        }
        boolean prepares = plain.words.size() > 1
                && plain.words.get(0).equals("prepare")
                && plain.words.get(1).equals("transaction");
        if (TRANSACTION_CONTROL.contains(plain.words.get(0)) || prepares) {
            throw new BathraException("'" + text.strip() + "' would begin or end a transaction behind Bathra's back; a"
                    + " transaction begins with store.transaction(...) or store.begin(), and ends with them");
        }
        return plain;
    }

    /**
     * Takes a script apart.
     *
     * @return its statements, in their order
     * @throws BathraException when one has a literal or comment that does not end
     */
    public static List<String> statements(Dialect dialect, String script) {
        return new TextScanner(dialect.lexis(), script).split();
    }

    /** Whether it may change rows or tables; one that only may is taken for one that does. */
    public boolean mayWrite() {
        return !READING.contains(words.get(0)) || words.stream().anyMatch(WRITING::contains);
    }

    /** The statement with placeholders, and what is bound to them. */
    public SqlText bind(Map<String, ? extends @Nullable Object> values) {
        refuseUnknown(values.keySet());
        StringBuilder sql = new StringBuilder(pieces.get(0));
        List<SqlText.Param> params = new ArrayList<>();
        for (int i = 0; i < parameters.size(); i++) {
            String name = parameters.get(i);
            if (!values.containsKey(name)) {
                throw new BathraException("the parameter ':" + name + "' has no value; give it one with with(\"" + name
                        + "\", value)\n  statement: " + text);
            }
            sql.append(bind(name, values.get(name), params)).append(pieces.get(i + 1));
        }
        return new SqlText(sql.toString(), params, mayWrite() || words.contains("share"), true);
    }

    private void refuseUnknown(Set<String> names) {
        Set<String> unknown = new LinkedHashSet<>(names);
        parameters.forEach(unknown::remove);
        if (!unknown.isEmpty()) {
            throw new BathraException(
                    "a value is given for ':" + unknown.iterator().next()
                            + "', but the statement has "
                            + (parameters.isEmpty() ? "no parameters" : "the parameters " + new TreeSet<>(parameters))
                            + "\n  statement: " + text);
        }
    }

    private String bind(String name, @Nullable Object value, List<SqlText.Param> params) {
        if (value instanceof Collection<?> several) {
            return list(name, several, params);
        }
        if (value instanceof Object[] several) {
            return list(name, Arrays.asList(several), params);
        }
        params.add(param(name, value));
        return "?";
    }

    private String list(String name, Collection<?> values, List<SqlText.Param> params) {
        if (values.isEmpty()) {
            throw new BathraException(
                    "the list for ':" + name + "' is empty, which SQL cannot write; leave the condition"
                            + " out, or do not ask at all\n  statement: " + text);
        }
        StringJoiner placeholders = new StringJoiner(", ");
        for (Object value : values) {
            params.add(param(name, value));
            placeholders.add("?");
        }
        return placeholders.toString();
    }

    private SqlText.Value param(String name, @Nullable Object value) {
        Object open = Secret.open(value);
        if (value == null || open == null) {
            return new SqlText.Value(ColumnType.text(0), null);
        }
        Class<?> valueType = open instanceof Enum<?> constant ? constant.getDeclaringClass() : open.getClass();
        ColumnType type = ColumnType.of(valueType)
                .orElseThrow(() -> new BathraException("the value for ':" + name + "' is of " + valueType.getName()
                        + ", which no column keeps; give a text, a number, a date or the like\n  statement: " + text));
        Gate gate = Gate.of(name, type);
        String wrong = gate.incomparable(value);
        if (wrong != null) {
            throw new BathraException("the value for ':" + name + "' " + wrong + "\n  statement: " + text);
        }
        return new SqlText.Value(type, gate.compared(value));
    }

    /**
     * Refuses a statement that would end the transaction that it is executed in.
     *
     * @throws BathraException when it does on this database
     */
    public void refuseCommit(Dialect dialect) {
        if (dialect.commitsByItself(words)) {
            throw new BathraException(
                    "on " + dialect.name() + ", '" + words.get(0) + "' commits what this transaction has"
                            + " done so far, which could not be taken back any more; run the statement by itself, with"
                            + " store.sql(...)\n  statement: " + text);
        }
    }

    /** Whether the statement speaks of a table. */
    public boolean names(String table) {
        return words.contains(table.toLowerCase(Locale.ROOT));
    }
}
