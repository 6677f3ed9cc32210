package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.StoredColumn;
import io.bathra.plan.Abilities;
import java.util.Collections;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * The SQL of one database, in four parts: how tables are defined, keys drawn, expressions and rows written. What most databases
 * understand stands in the parts themselves; a database's own parts say what it does differently. Dialects know nothing of
 * connections.
 */
public abstract class Dialect extends Names {
    Dialect(@Nullable String schema) {
        super(schema);
    }

    /** The database's name, as a person writes it. */
    public abstract String name();

    /** Tables. */
    public abstract Definitions definitions();

    /** Keys. */
    public abstract Generators generators();

    /** Conditions, values and orderings. */
    public abstract Expressions expressions();

    /** Rows that are written. */
    public abstract Forms forms();

    // ---- plain text

    /** How the text of a statement is read. */
    Lexis lexis() {
        return Lexis.STANDARD;
    }

    /** Whether a statement of these words ends the transaction that it is executed in. */
    boolean commitsByItself(List<String> words) {
        return false;
    }

    /** What a plan may expect. */
    public Abilities abilities() {
        return Abilities.FEWEST;
    }

    /** A column's type. */
    abstract String type(ColumnType type);

    /** The name of a type on which SQL's standard and most databases agree. */
    static String standardType(ColumnType type) {
        return switch (type.kind()) {
            case BOOLEAN -> "boolean";
            case BYTE, SHORT -> "smallint";
            case INTEGER -> "integer";
            case LONG -> "bigint";
            case FLOAT -> "real";
            case DOUBLE -> "double precision";
            case DATE -> "date";
            default -> throw new IllegalStateException("no common type keeps " + type.kind());
        };
    }

    static String placeholders(int count) {
        return String.join(", ", Collections.nCopies(count, "?"));
    }

    static String aliases(List<StoredColumn> columns) {
        return columns.stream().map(StoredColumn::alias).collect(Collectors.joining(", "));
    }
}
