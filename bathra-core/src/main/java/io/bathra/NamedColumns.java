package io.bathra;

import io.bathra.error.BathraException;
import io.bathra.jdbc.Transaction;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredAttribute;
import io.bathra.model.StoredColumn;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Where the columns of an entity stand in the answer to a plain statement, by their names. */
final class NamedColumns {
    private final ModelEntity<?> entity;
    private final List<Integer> indexes;

    private NamedColumns(ModelEntity<?> entity, List<Integer> indexes) {
        this.entity = entity;
        this.indexes = indexes;
    }

    /**
     * Finds the columns of an entity.
     *
     * @throws BathraException when one is not there
     */
    static NamedColumns ofEntity(ModelEntity<?> entity, ResultSet result) throws SQLException {
        Map<String, Integer> labels = labels(result);
        List<Integer> indexes = new ArrayList<>();
        for (StoredAttribute attribute : entity.withRow()) {
            for (StoredColumn column : attribute.columns()) {
                Integer index = labels.get(column.name().toLowerCase(Locale.ROOT));
                if (index == null) {
                    throw new BathraException("the column '" + column.name() + "' of " + entity.name()
                            + " is not in the answer, which has " + labels.keySet()
                            + "; select all columns of the entity, or read into a record");
                }
                indexes.add(index);
            }
        }
        return new NamedColumns(entity, indexes);
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

    /** The values of the current row by slot. */
    @Nullable
    Object[] row(Transaction transaction, ResultSet result) throws SQLException {
        @Nullable Object[] row = new Object[entity.stored().size()];
        int next = 0;
        for (StoredAttribute attribute : entity.withRow()) {
            List<@Nullable Object> parts = new ArrayList<>();
            for (StoredColumn column : attribute.columns()) {
                parts.add(transaction.read(result, indexes.get(next++), column.type()));
            }
            row[attribute.slot()] =
                    attribute.isOneValue() ? parts.get(0) : attribute.shape().assemble(parts);
        }
        return row;
    }
}
