package io.bathra.read;

import io.bathra.access.RecordMaker;
import io.bathra.attr.Naming;
import io.bathra.error.BathraException;
import io.bathra.jdbc.ColumnReader;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ColumnType;
import java.lang.reflect.RecordComponent;
import java.math.BigDecimal;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What the rows of a plain query become: records, single values, or maps. */
interface RowForm<R> {
    /** What the current row becomes. */
    R row(ResultSet result) throws SQLException;

    /**
     * Finds the columns that the rows are made of.
     *
     * @throws BathraException when one is missing, or nothing of this class can be made of columns
     */
    @SuppressWarnings({"unchecked", "NullAway"}) // each branch makes what its class says; a single value may be none
    static <R> RowForm<R> of(Class<R> type, ResultSet result, Transaction transaction) throws SQLException {
        Map<String, Integer> labels = NamedColumns.labels(result);
        if (type == Map.class) {
            return row -> (R) map(labels, row, transaction);
        }
        if (type.isRecord()) {
            return RecordForm.of(type, labels, transaction);
        }
        ColumnType columnType = ColumnType.of(type)
                .orElseThrow(() -> new BathraException("no row becomes a " + type.getName()
                        + "; ask for a record, an entity of the model, or a single text, number, date or the like"));
        if (labels.size() != 1) {
            throw new BathraException("a " + type.getSimpleName() + " is made of one column, but the answer has "
                    + labels.keySet() + "; select one, or ask for a record");
        }
        ColumnReader reader = reader(transaction, columnType);
        return row -> (R) reader.read(row, 1);
    }

    private static Map<String, @Nullable Object> map(
            Map<String, Integer> labels, ResultSet result, Transaction transaction) throws SQLException {
        Map<String, @Nullable Object> map = new LinkedHashMap<>();
        for (Map.Entry<String, Integer> column : labels.entrySet()) {
            map.put(column.getKey(), transaction.readPlain(result, column.getValue()));
        }
        return map;
    }

    /** What reads a column of which only the wanted type is known: decimals come without trailing zeros. */
    private static ColumnReader reader(Transaction transaction, ColumnType type) {
        if (type.kind() != ColumnType.Kind.DECIMAL) {
            return transaction.reader(type);
        }
        return (result, index) -> {
            BigDecimal value = result.getBigDecimal(index);
            BigDecimal plain = value == null ? null : value.stripTrailingZeros();
            return plain == null || plain.scale() >= 0 ? plain : plain.setScale(0);
        };
    }

    /** A record of columns with the names of its components. */
    final class RecordForm<R> implements RowForm<R> {
        private final RecordMaker<R> maker;
        private final ColumnReader[] readers;
        private final int[] indexes;

        private RecordForm(RecordMaker<R> maker, ColumnReader[] readers, int[] indexes) {
            this.maker = maker;
            this.readers = readers;
            this.indexes = indexes;
        }

        static <R> RecordForm<R> of(Class<R> type, Map<String, Integer> labels, Transaction transaction) {
            RecordComponent[] components = type.getRecordComponents();
            ColumnReader[] readers = new ColumnReader[components.length];
            int[] indexes = new int[components.length];
            for (int i = 0; i < components.length; i++) {
                RecordComponent component = components[i];
                String place = type.getSimpleName() + "." + component.getName();
                ColumnType columnType = ColumnType.of(component.getType())
                        .orElseThrow(() -> new BathraException(place + " is of "
                                + component.getType().getName() + ", which no column becomes; take a text, a number, a"
                                + " date or the like"));
                readers[i] = reader(transaction, columnType);
                indexes[i] = index(component.getName(), labels, place);
            }
            return new RecordForm<>(RecordMaker.of(type), readers, indexes);
        }

        private static int index(String component, Map<String, Integer> labels, String place) {
            Integer index = labels.get(component.toLowerCase(Locale.ROOT));
            if (index == null) {
                index = labels.get(Naming.SNAKE_CASE.inSql(component));
            }
            if (index == null) {
                throw new BathraException("there is no column for " + place + " in the answer, which has "
                        + labels.keySet() + "; give one that name with 'as'");
            }
            return index;
        }

        @Override
        public R row(ResultSet result) throws SQLException {
            @Nullable Object[] values = new Object[indexes.length];
            for (int i = 0; i < values.length; i++) {
                values[i] = readers[i].read(result, indexes[i]);
            }
            return maker.make(values);
        }
    }
}
