package io.bathra.sql;

import io.bathra.attr.Converter;
import io.bathra.error.BathraException;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Gate;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.Years;
import io.bathra.schema.Literal;
import org.jspecify.annotations.Nullable;

/**
 * A value as it stands in a statement.
 *
 * @param sql a column, or an expression
 * @param gate where what is compared with it passes, and what it gives
 * @param column the column whose values it has; null for something computed
 * @param nullable whether it may be missing
 */
public record Place(String sql, Gate gate, @Nullable StoredColumn column, boolean nullable) {
    static Place of(String sql, StoredColumn column, boolean nullable) {
        return new Place(sql, column.gate(), column, nullable);
    }

    /** Something that no column has a part in. */
    static Place free(String sql, ColumnType type, boolean nullable) {
        return new Place(sql, Gate.of(sql, type), null, nullable);
    }

    /** A column that is compared with literals; the name of a constant is a text. */
    static Place ofLiterals(String sql, ColumnType type, boolean nullable) {
        ColumnType kept = type.kind() == ColumnType.Kind.ENUM ? ColumnType.text(type.length()) : type;
        Converter<Object, Object> reading =
                Converter.to(Object.class, literal -> Literal.as(kept, literal), one -> one);
        return new Place(sql, Gate.of(sql, kept, reading, false), null, nullable);
    }

    /** Something that is made of this; what is made of a secret is one too. */
    Place made(String otherSql, ColumnType otherType, boolean maybeMissing) {
        return new Place(otherSql, gate.computed(otherSql, otherType), null, maybeMissing);
    }

    ColumnType type() {
        return gate.type();
    }

    /**
     * What the place would keep of a value that it is compared with.
     *
     * @throws BathraException when the database has nothing that could be compared with it
     */
    Object compared(Object value, Years years) {
        return gate.compared(value, years);
    }

    /** Whether the value is the user's as it is read. */
    public boolean isPlain() {
        return gate.isPlain();
    }

    /** The value as the user knows it. */
    public @Nullable Object shown(@Nullable Object stored) {
        return stored == null ? null : gate.user(stored);
    }

    /** A value that is kept as this place keeps its own. */
    Place value(String otherSql) {
        return new Place(otherSql, gate, column, false);
    }

    /** The same value in other words. */
    Place as(String otherSql) {
        return new Place(otherSql, gate, column, nullable);
    }
}
