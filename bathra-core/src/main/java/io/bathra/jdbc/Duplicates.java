package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.error.ConstraintViolation.Place;
import io.bathra.error.UniqueViolation;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.sql.WriteForm;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Finds the value that must be unique, and is there already, where the database tells its columns alone. */
final class Duplicates {
    private final Transaction transaction;
    private final ModelEntity<?> entity;
    private final UniqueKey key;

    private Duplicates(Transaction transaction, ModelEntity<?> entity, UniqueKey key) {
        this.transaction = transaction;
        this.entity = entity;
        this.key = key;
    }

    /**
     * The refusal of rows with the value that it is because of, as far as that can be found out.
     *
     * @param rows their values by slot
     */
    static UniqueViolation named(
            Transaction transaction, UniqueViolation refused, WriteForm form, List<@Nullable Object[]> rows) {
        Place place = refused.place();
        ModelEntity<?> entity = form.parameters().get(0).column().attribute().entity();
        if (place.value() != null
                || transaction.database().tellsDuplicates()
                || !entity.name().equals(place.entity())) {
            return refused;
        }
        Set<String> names = Set.copyOf(place.attributes());
        UniqueKey key = entity.uniqueKeys().stream()
                .filter(one -> one.attributes().size() == names.size()
                        && one.attributes().stream().map(StoredAttribute::name).allMatch(names::contains))
                .findFirst()
                .orElse(null);
        @Nullable Object[] found = key == null ? null : new Duplicates(transaction, entity, key).find(rows);
        if (key == null || found == null) {
            return refused;
        }
        Place full = new Place(place.entity(), place.attributes(), shown(key, found), place.constraint());
        UniqueViolation told = new UniqueViolation(full, refused.sql(), Objects.requireNonNull(refused.getCause()));
        told.setStackTrace(refused.getStackTrace());
        return told;
    }

    private static String shown(UniqueKey key, @Nullable Object[] row) {
        List<String> values = new ArrayList<>();
        for (StoredAttribute attribute : key.attributes()) {
            values.add(String.valueOf(attribute.shown(row[attribute.slot()])));
        }
        return String.join(", ", values);
    }

    /** The first of the rows whose value another one of them has, or one in the database. */
    private @Nullable Object @Nullable [] find(List<@Nullable Object[]> rows) {
        if (rows.size() == 1) {
            return rows.get(0);
        }
        Map<Object, @Nullable Object[]> byValue = new LinkedHashMap<>();
        for (Object[] row : rows) {
            Object value = value(row);
            if (value != null && byValue.put(value, row) != null) {
                return row;
            }
        }
        try {
            List<Object> wanted = new ArrayList<>();
            byValue.values().forEach(row -> wanted.add(key.in(row)));
            Map<Object, @Nullable Object[]> there = new HashMap<>();
            KeyedRows.read(
                    transaction,
                    "which value is there already",
                    entity,
                    ModelEntity.columns(key.attributes()),
                    key.shape(),
                    wanted,
                    "",
                    found -> there.put(Objects.requireNonNull(value(found)), found));
            for (Map.Entry<Object, @Nullable Object[]> one : byValue.entrySet()) {
                @Nullable Object[] other = there.get(one.getKey());
                if (other != null && !Objects.equals(entity.keyIn(other), entity.keyIn(one.getValue()))) {
                    return one.getValue();
                }
            }
        } catch (BathraException | ClassCastException e) {
            return null; // the refusal itself matters more
        }
        return null;
    }

    private @Nullable Object value(@Nullable Object[] row) {
        return key.value(row);
    }
}
