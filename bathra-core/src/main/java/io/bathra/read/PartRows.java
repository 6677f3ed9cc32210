package io.bathra.read;

import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.sql.SqlText;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The rows of the parts of several owners, while they are read. */
final class PartRows {
    private final Transaction transaction;
    private final ModelEntity<?> rows;
    private final LinkAttribute owner;
    private final @Nullable StoredAttribute order;
    private final Map<Object, List<@Nullable Object[]>> byOwner = new HashMap<>();

    PartRows(Transaction transaction, PartsAttribute attribute) {
        this.transaction = transaction;
        this.rows = attribute.parts().rows();
        this.owner = attribute.parts().owner();
        this.order = attribute.parts().order();
    }

    /** Asks for the parts of owners with these keys, as many as fit into one statement. */
    SqlText select(List<Object> keys) {
        return transaction.database().dialect().selects().leading(owner, keys);
    }

    void row(ResultSet result) throws SQLException {
        @Nullable Object[] row = KeyedRows.row(transaction, rows, result);
        byOwner.computeIfAbsent(Objects.requireNonNull(row[owner.slot()]), key -> new ArrayList<>())
                .add(row);
    }

    /** The keys of the owners to whom rows have come. */
    Set<Object> owners() {
        return byOwner.keySet();
    }

    /** Rows of owners whose keys are written otherwise there, which is the same to the database: they are as here from now on. */
    void belong(Map<Object, Object> ownerOf) {
        ownerOf.forEach((written, key) -> {
            List<@Nullable Object[]> found = Objects.requireNonNull(byOwner.remove(written));
            found.forEach(row -> row[owner.slot()] = key);
            byOwner.computeIfAbsent(key, one -> new ArrayList<>()).addAll(found);
        });
    }

    /** The rows of an owner in their order, when all have been read. */
    List<@Nullable Object[]> of(Object key) {
        List<@Nullable Object[]> own = byOwner.getOrDefault(key, new ArrayList<>(0));
        if (order != null) {
            own.sort(Comparator.comparing(row -> (Long) Objects.requireNonNull(row[order.slot()])));
        }
        return own;
    }
}
