package io.bathra.bulk;

import io.bathra.input.Natural;
import io.bathra.jdbc.Alike;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.sql.SelectWriter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Looks up the keys of rows that are told by what is unique in them; those of a portion in one statement for each
 * attribute.
 */
final class NaturalKeys {
    /** So many keys are remembered from one portion to the next. */
    private static final int REMEMBERED = 50_000;

    private final Transaction transaction;
    private final CharSequence cause;
    private final Map<StoredAttribute, Map<Object, Object>> known = new HashMap<>();

    NaturalKeys(Transaction transaction, CharSequence cause) {
        this.transaction = transaction;
        this.cause = cause;
    }

    /** Takes a row whose target is not there. */
    interface Unknown {
        void add(BulkRow row, LinkAttribute link, Natural natural);
    }

    /** Puts keys in place of what stands for them. */
    void resolve(List<BulkRow> rows, List<LinkAttribute> links, Unknown unknown) {
        for (LinkAttribute link : links) {
            Map<StoredAttribute, Set<Object>> wanted = new HashMap<>();
            for (BulkRow row : rows) {
                if (row.values[link.slot()] instanceof Natural natural) {
                    wanted.computeIfAbsent(natural.by(), by -> new LinkedHashSet<>())
                            .add(natural.value());
                }
            }
            wanted.forEach(this::lookUp);
            for (BulkRow row : rows) {
                if (row.values[link.slot()] instanceof Natural natural) {
                    Object key = Objects.requireNonNull(known.get(natural.by())).get(natural.value());
                    row.values[link.slot()] = key;
                    if (key == null) {
                        unknown.add(row, link, natural);
                    }
                }
            }
        }
    }

    /** The keys of the rows with these values, as far as they are there. */
    Map<Object, Object> lookUp(StoredAttribute by, Set<Object> values) {
        Map<Object, Object> keys = known.computeIfAbsent(by, attribute -> new LinkedHashMap<>());
        if (keys.size() > REMEMBERED) {
            keys.clear();
        }
        List<Object> missing =
                values.stream().filter(value -> !keys.containsKey(value)).toList();
        Map<Object, Object> found = rows(by, missing);
        keys.putAll(found);
        Alike.came(
                        new LinkedHashSet<>(missing),
                        found.keySet(),
                        some -> rows(by, some).keySet())
                .forEach((asked, came) -> keys.put(asked, Objects.requireNonNull(found.get(came))));
        return keys;
    }

    private Map<Object, Object> rows(StoredAttribute by, List<Object> values) {
        Map<Object, Object> keys = new LinkedHashMap<>();
        ModelEntity<?> entity = by.entity();
        List<StoredColumn> selected = new ArrayList<>(entity.keyColumns());
        selected.addAll(by.columns());
        for (List<Object> some : KeyedRows.chunks(values, by.columns().size())) {
            transaction.query(
                    cause + ": " + entity.name() + " by " + by.name(),
                    SelectWriter.columnsWhere(
                            transaction.database().dialect(), entity, selected, by.columns(), by.shape(), some),
                    result -> {
                        @Nullable Object[] row = new Object[entity.stored().size()];
                        int index = 1;
                        for (StoredAttribute attribute : entity.keyAttributes()) {
                            row[attribute.slot()] = KeyedRows.value(transaction, attribute, result, index);
                            index += attribute.columns().size();
                        }
                        Object value = KeyedRows.value(transaction, by, result, index);
                        keys.put(Objects.requireNonNull(value), Objects.requireNonNull(entity.keyIn(row)));
                    });
        }
        return keys;
    }
}
