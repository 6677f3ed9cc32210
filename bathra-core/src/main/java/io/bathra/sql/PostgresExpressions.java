package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.question.Term;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.regex.Pattern;

/** Expressions of PostgreSQL. */
final class PostgresExpressions extends Expressions {
    private static final Pattern PROPERTY = Pattern.compile("(?m)^(\\s*[A-Z][A-Za-z -]*: ).*$");

    /** So many values are bound one by one: to make an array and to take it apart again would take longer. */
    private static final int FEW = 8;

    PostgresExpressions(Dialect dialect) {
        super(dialect);
    }

    /** Texts come without a collation, so that those of the columns beside them hold. */
    @Override
    String constant(ColumnType type) {
        return "?::" + PostgresDialect.element(type);
    }

    @Override
    String oneOfSeveral(String column, ColumnType type, List<?> values, List<SqlText.Param> params) {
        if (values.size() <= FEW) {
            return list(column, type, values, params);
        }
        params.add(new SqlText.ArrayValue(type, values));
        return column + " = any(?::" + PostgresDialect.element(type) + "[])";
    }

    @Override
    boolean putsNullsFirst(boolean descending) {
        return descending;
    }

    /** Seconds have a fraction, and all parts are numerics. */
    @Override
    String timePart(Term.Part part, String time) {
        return "cast(floor(" + super.timePart(part, time) + ") as integer)";
    }

    @Override
    String inZone(String instant, ZoneId zone) {
        return "(" + instant + " at time zone "
                + (zone.normalized() instanceof ZoneOffset offset
                        ? "interval '" + offset.getTotalSeconds() + " seconds'"
                        : textLiteral(zone.getId()))
                + ")";
    }

    /** Values stand in the properties of its steps, behind a colon. */
    @Override
    public String planWithoutValues(String plan) {
        return PROPERTY.matcher(plan).replaceAll("$1(secret)");
    }

    /** Rows of tables that are joined from the outside cannot be held. */
    @Override
    String heldAlone(String alias) {
        return " of " + alias;
    }

    @Override
    String oneOfSeveral(
            List<String> columns, List<ColumnType> types, List<List<Object>> tuples, List<SqlText.Param> params) {
        List<String> arrays = new ArrayList<>();
        for (int i = 0; i < types.size(); i++) {
            int part = i;
            params.add(new SqlText.ArrayValue(
                    types.get(i), tuples.stream().map(tuple -> tuple.get(part)).toList()));
            arrays.add("?::" + PostgresDialect.element(types.get(i)) + "[]");
        }
        return "(" + String.join(", ", columns) + ") in (select * from unnest(" + String.join(", ", arrays) + "))";
    }

    @Override
    String bytes(byte[] value) {
        return "bytea '\\x" + HexFormat.of().formatHex(value) + "'";
    }

    @Override
    String isNumber(String text, boolean whole) {
        return text + " ~ " + numberPattern(whole);
    }

    @Override
    String exact(String number) {
        return "cast(" + number + " as numeric)";
    }
}
