package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.StoredColumn;
import io.bathra.plan.Abilities;
import java.util.Collections;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * The SQL of one database, in five parts: how tables are defined and changed, keys drawn, expressions and rows written.
 * What most
 * databases understand stands in the parts themselves; a database's own parts say what it does differently. Dialects
 * know nothing of connections.
 */
public abstract class Dialect extends Names {
    private final Definitions definitions;
    private final Generators generators;
    private final Expressions expressions;
    private final Forms forms;
    private final Alterations alterations;
    private final Selects selects = new Selects(this);

    Dialect(
            @Nullable String schema,
            Function<Dialect, Definitions> definitions,
            Function<Dialect, Generators> generators,
            Function<Dialect, Expressions> expressions,
            Function<Dialect, Forms> forms,
            Function<Dialect, Alterations> alterations) {
        super(schema);
        this.definitions = definitions.apply(this);
        this.generators = generators.apply(this);
        this.expressions = expressions.apply(this);
        this.forms = forms.apply(this);
        this.alterations = alterations.apply(this);
    }

    /** The database's name, as a person writes it. */
    public abstract String name();

    /** Tables. */
    public final Definitions definitions() {
        return definitions;
    }

    /** Keys. */
    public final Generators generators() {
        return generators;
    }

    /** Conditions, values and orderings. */
    public final Expressions expressions() {
        return expressions;
    }

    /** Whole rows by keys. */
    public final Selects selects() {
        return selects;
    }

    /** Rows that are written. */
    public final Forms forms() {
        return forms;
    }

    /** What leads from one schema to the next. */
    public final Alterations alterations() {
        return alterations;
    }

    /** How several statements go over together; null where there is no way to go, since the database is in the process. */
    public @Nullable Together together() {
        return null;
    }

    // ---- plain text

    /** How the text of a statement is read. */
    Lexis lexis() {
        return Lexis.STANDARD;
    }

    /** Whether a statement of these words ends the transaction that it is executed in. */
    public boolean commitsByItself(List<String> words) {
        return false;
    }

    /** A statement that waits until the server it goes to has all that was committed on any of them. */
    public SqlText seeingAll(SqlText statement) {
        return statement;
    }

    /** What a plan may expect. */
    public abstract Abilities abilities();

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
