package io.bathra;

import io.bathra.access.RecordMaker;
import io.bathra.error.BathraException;
import io.bathra.jdbc.Transaction;
import io.bathra.model.ColumnType;
import io.bathra.model.Naming;
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
    @SuppressWarnings("unchecked") // each branch makes what its class says
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
        return row -> (R) value(transaction, row, 1, columnType);
    }

    private static Map<String, @Nullable Object> map(
            Map<String, Integer> labels, ResultSet result, Transaction transaction) throws SQLException {
        Map<String, @Nullable Object> map = new LinkedHashMap<>();
        for (Map.Entry<String, Integer> column : labels.entrySet()) {
            map.put(column.getKey(), transaction.readPlain(result, column.getValue()));
        }
        return map;
    }

    private static @Nullable Object value(Transaction transaction, ResultSet result, int index, ColumnType type)
            throws SQLException {
        if (type.kind() != ColumnType.Kind.DECIMAL) {
            return transaction.read(result, index, type);
        }
        BigDecimal value = result.getBigDecimal(index); // of a scale that nobody has declared
        if (value == null) {
            return null;
        }
        BigDecimal plain = value.stripTrailingZeros();
        return plain.scale() < 0 ? plain.setScale(0) : plain;
    }

    /** A record of columns with the names of its components. */
    final class RecordForm<R> implements RowForm<R> {
        private final RecordMaker<R> maker;
        private final ColumnType[] types;
        private final int[] indexes;
        private final Transaction transaction;

        private RecordForm(RecordMaker<R> maker, ColumnType[] types, int[] indexes, Transaction transaction) {
            this.maker = maker;
            this.types = types;
            this.indexes = indexes;
            this.transaction = transaction;
        }

        static <R> RecordForm<R> of(Class<R> type, Map<String, Integer> labels, Transaction transaction) {
            RecordComponent[] components = type.getRecordComponents();
            ColumnType[] types = new ColumnType[components.length];
            int[] indexes = new int[components.length];
            for (int i = 0; i < components.length; i++) {
                RecordComponent component = components[i];
                String place = type.getSimpleName() + "." + component.getName();
                types[i] = ColumnType.of(component.getType())
                        .orElseThrow(() -> new BathraException(place + " is of "
                                + component.getType().getName() + ", which no column becomes; take a text, a number, a"
                                + " date or the like"));
                indexes[i] = index(component.getName(), labels, place);
            }
            return new RecordForm<>(RecordMaker.of(type), types, indexes, transaction);
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
                values[i] = value(transaction, result, indexes[i], types[i]);
            }
            return maker.make(values);
        }
    }
}
