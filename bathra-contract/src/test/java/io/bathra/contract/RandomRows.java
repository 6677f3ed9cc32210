package io.bathra.contract;

import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.error.UniqueViolation;
import io.bathra.flush.Environment;
import io.bathra.jdbc.ColumnReader;
import io.bathra.jdbc.Settings;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.KeySource;
import io.bathra.schema.Column;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Literal;
import io.bathra.schema.Sheet;
import io.bathra.sql.SqlText;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.UUID;
import java.util.stream.Collectors;

/** Rows for the tables of a layout, as programs would write them: with links that lead somewhere, and drawn keys. */
final class RandomRows implements AutoCloseable {
    private static final int MOST = 4;

    private final Layout layout;
    private final Random random;
    private final Environment environment;
    private final Transaction transaction;
    private int number;
    private int written;
    private int refused;

    RandomRows(Store store, Layout layout, Random random) {
        this.layout = layout;
        this.random = random;
        environment = Environment.of(store);
        transaction = environment.transaction(environment.recorder(), Settings.ALONE);
    }

    @Override
    public void close() {
        transaction.close();
    }

    int written() {
        return written;
    }

    int refused() {
        return refused;
    }

    /** Some rows in each table that can have some. */
    void write() {
        for (int round = 0; round < 3; round++) {
            for (Sheet sheet : layout.sheets().values()) {
                for (int i = random.nextInt(MOST + 1); i > 0; i--) {
                    row(sheet);
                }
            }
        }
    }

    /**
     * Deletes all rows.
     *
     * @return whether links have let them all go
     */
    boolean delete() {
        for (int round = 0; round < layout.sheets().size(); round++) {
            for (Sheet sheet : layout.sheets().values()) {
                try {
                    transaction.execute(
                            "rows", "delete from " + environment.dialect().qualified(sheet.table()));
                } catch (BathraException e) {
                    continue; // rows of another table refer to them
                }
            }
        }
        return layout.sheets().values().stream()
                .allMatch(sheet -> rows(sheet, sheet.keyColumns()).isEmpty());
    }

    /** A row that keeps to all that the layout asks for may still be there already. */
    private void row(Sheet sheet) {
        Map<String, SqlText.Value> row = new LinkedHashMap<>();
        for (int i = 0; i < sheet.fields().size(); i++) {
            Field field = sheet.fields().get(i);
            boolean key = i < sheet.keyFields();
            boolean possible = field instanceof Field.OfLink link
                    ? link(row, link, link.required() || key)
                    : column(row, sheet, (Field.OfColumn) field, key);
            if (!possible) {
                return;
            }
        }
        String columns = row.keySet().stream().map(environment.dialect()::quote).collect(Collectors.joining(", "));
        String holes = row.values().stream().map(one -> "?").collect(Collectors.joining(", "));
        String sql = "insert into " + environment.dialect().qualified(sheet.table())
                + (row.isEmpty() ? " default values" : " (" + columns + ") values (" + holes + ")");
        try {
            transaction.execute("rows", new SqlText(sql, List.copyOf(row.values())));
            written++;
        } catch (BathraException e) {
            refused++;
            boolean ofTheKey = e instanceof UniqueViolation && sheet.uniques().isEmpty();
            if (sheet.keySource() == KeySource.GENERATED && ofTheKey) {
                throw new AssertionError("a key was drawn that is there: " + sql, e);
            }
        }
    }

    private boolean link(Map<String, SqlText.Value> row, Field.OfLink link, boolean required) {
        Sheet target = layout.sheet(link.to()).orElseThrow();
        List<ColumnType> types = layout.table(target).columns().stream()
                .filter(column -> target.keyColumns().contains(column.name()))
                .map(Column::type)
                .toList();
        List<List<Object>> keys = rows(target, target.keyColumns());
        boolean none = keys.isEmpty() || !required && random.nextInt(4) == 0;
        if (none && required) {
            return false;
        }
        List<Object> key = none ? null : keys.get(random.nextInt(keys.size()));
        for (int i = 0; i < types.size(); i++) {
            row.put(link.columns().get(i), new SqlText.Value(types.get(i), key == null ? null : key.get(i)));
        }
        return true;
    }

    private boolean column(Map<String, SqlText.Value> row, Sheet sheet, Field.OfColumn column, boolean key) {
        boolean drawn = key && sheet.keySource() == KeySource.GENERATED;
        boolean made = column.computed() != null || column.byDefault() != null && random.nextBoolean();
        if (drawn || made) {
            return true;
        }
        boolean checked = sheet.checks().stream()
                .anyMatch(one -> Sheet.fieldsOf(one.condition()).contains(column.name()));
        boolean none = !key && !column.required() && !checked && random.nextInt(4) == 0;
        boolean dense = key && sheet.keyFields() == 1 && column.type().kind().isWhole();
        Object literal = dense
                ? (Object)
                        (rows(sheet, sheet.keyColumns()).size() + 1L) // what a generator that lags behind draws again
                : literal(random, ++number, column.type(), checked);
        Object value = none ? null : Literal.as(read(column.type()), literal);
        row.put(column.column(), new SqlText.Value(read(column.type()), value));
        return true;
    }

    /** A value that any column of the type takes, and that keeps to the checks of random layouts. */
    static Object literal(Random random, int number, ColumnType type, boolean checked) {
        int some = 2 + number % 30;
        return switch (type.kind()) {
            case BOOLEAN -> random.nextBoolean();
            case BYTE, SHORT, INTEGER -> (long) 2 + number;
            case LONG -> random.nextInt(3) == 0 ? 5_000_000_000L + number : 2L + number;
            case DOUBLE, FLOAT -> Literal.decimal(BigDecimal.valueOf(2 + number + (number % 4) / 4.0));
            case DECIMAL ->
                Literal.decimal(BigDecimal.valueOf(2 + number)
                        .add(BigDecimal.ONE.divide(BigDecimal.valueOf(1 + number % 8), type.scale(), RoundingMode.DOWN))
                        .setScale(type.scale(), RoundingMode.DOWN));
            case CHARACTER -> "c";
            case STRING, LONG_TEXT, ENUM ->
                checked
                        ? random.nextBoolean() ? "a" : "it's"
                        : random.nextInt(3) == 0
                                ? String.valueOf(number)
                                : cut("x" + number + " it's \\ long", type.length(), 5 + random.nextInt(20));
            case DATE -> "2024-02-%02d".formatted(1 + number % 28);
            case TIME -> "%02d:15:%02d".formatted(number % 24, some);
            case DATE_TIME -> "2024-03-%02dT%s".formatted(1 + number % 28, random.nextBoolean() ? "00:00" : "10:15:30");
            case INSTANT -> "2024-05-%02dT10:15:30Z".formatted(1 + number % 28);
            case UUID -> new UUID(random.nextLong(), number).toString();
            case BYTES -> HexFormat.of().formatHex(new byte[] {1, (byte) number, -1});
        };
    }

    private static String cut(String text, int length, int wanted) {
        return text.substring(0, Math.min(text.length(), length == 0 ? wanted : Math.min(length, wanted)));
    }

    /** The name of a constant is kept as a text. */
    private static ColumnType read(ColumnType type) {
        return type.kind() == Kind.ENUM ? ColumnType.text(type.length()) : type;
    }

    /** The values of some columns in all rows, in the order of the keys. */
    List<List<Object>> rows(Sheet sheet, List<String> columns) {
        List<Column> all = layout.table(sheet).columns();
        List<ColumnReader> readers = columns.stream()
                .map(name -> all.stream()
                        .filter(column -> column.name().equals(name))
                        .findFirst()
                        .orElseThrow())
                .map(column -> transaction.reader(read(column.type())))
                .toList();
        String names = columns.stream().map(environment.dialect()::quote).collect(Collectors.joining(", "));
        String sql = "select " + names + " from " + environment.dialect().qualified(sheet.table())
                + " order by "
                + sheet.keyColumns().stream().map(environment.dialect()::quote).collect(Collectors.joining(", "));
        List<List<Object>> rows = new ArrayList<>();
        transaction.query("rows", new SqlText(sql, List.of()), result -> {
            List<Object> row = new ArrayList<>();
            for (int i = 0; i < readers.size(); i++) {
                row.add(readers.get(i).read(result, i + 1));
            }
            rows.add(row);
        });
        return rows;
    }

    /** Whether what a column has is made by the database. */
    static boolean isComputed(Column column) {
        return column.made() instanceof DatabaseMade.Computed;
    }
}
