package io.bathra.read;

import io.bathra.error.BathraException;
import io.bathra.jdbc.RowReader;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Finds columns in the answer to a plain statement by their names. */
final class NamedColumns {
    private NamedColumns() {}

    /**
     * Finds the columns of an entity.
     *
     * @return what reads its rows
     * @throws BathraException when one is not there
     */
    static RowReader ofEntity(Transaction transaction, ModelEntity<?> entity, ResultSet result) throws SQLException {
        Map<String, Integer> labels = labels(result);
        List<StoredColumn> columns = entity.columnsWithRow();
        int[] places = new int[columns.size()];
        for (int i = 0; i < places.length; i++) {
            String name = columns.get(i).name();
            Integer index = labels.get(name.toLowerCase(Locale.ROOT));
            if (index == null) {
                throw new BathraException("the column '" + name + "' of " + entity.name()
                        + " is not in the answer, which has " + labels.keySet()
                        + "; select all columns of the entity, or read into a record");
            }
            places[i] = index - 1;
        }
        return transaction.rowReader(entity, places);
    }

    /** The columns of an answer in their order, by their names in small letters. */
    static Map<String, Integer> labels(ResultSet result) throws SQLException {
        ResultSetMetaData data = result.getMetaData();
        Map<String, Integer> labels = new LinkedHashMap<>();
        for (int i = 1; i <= data.getColumnCount(); i++) {
            String label = data.getColumnLabel(i).toLowerCase(Locale.ROOT);
            if (labels.putIfAbsent(label, i) != null) {
                throw new BathraException("two columns of the answer are called '" + label
                        + "', so it is unclear which one is meant; give one another name with 'as'");
            }
        }
        return labels;
    }
}
