package io.bathra.read;

import io.bathra.error.BathraException;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.ToMany;
import io.bathra.question.Choice;
import io.bathra.question.SearchCondition;
import io.bathra.sql.Dialect;
import io.bathra.sql.Select;
import io.bathra.sql.SelectWriter;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Reads those elements of collections that fulfil conditions; the collections are left as they are. */
final class ExcerptReader {
    private final Transaction transaction;

    ExcerptReader(Transaction transaction) {
        this.transaction = transaction;
    }

    /** The elements of each owner, by the owner's object. */
    <T> Map<Object, List<T>> read(ReadSide into, ModelEntity<?> entity, Choice<?, T, ?> excerpt, Collection<?> owners) {
        ToMany many = collection(entity, excerpt);
        Map<Object, Object> byKey = new HashMap<>();
        List<Object> keys = new ArrayList<>();
        for (Object owner : owners) {
            Object key = Objects.requireNonNull(
                    Objects.requireNonNull(into.tracker().entryOf(owner)).key());
            byKey.put(key, owner);
            keys.add(key);
        }
        Map<Object, List<T>> found = new IdentityHashMap<>();
        for (List<Object> some : KeyedRows.chunks(keys, entity.keyColumns().size())) {
            read(into, many, some, excerpt.conditions(), (ownerKey, element) -> {
                Object owner = byKey.get(ownerKey);
                found.computeIfAbsent(owner, o -> new ArrayList<>()).add(cast(element));
            });
        }
        return found;
    }

    @SuppressWarnings("unchecked") // the elements of a collection are of its type
    private static <T> T cast(Entry<?> element) {
        return (T) element.object();
    }

    private interface Found {
        void add(@Nullable Object ownerKey, Entry<?> element);
    }

    private void read(ReadSide into, ToMany many, List<Object> keys, List<SearchCondition> conditions, Found found) {
        Dialect dialect = transaction.database().dialect();
        if (many instanceof LinksAttribute links) {
            Select select = SelectWriter.elements(dialect, links, keys, conditions);
            into.reader()
                    .read(Causes.read(links, keys.size()), links.target(), select.text())
                    .forEach(child -> found.add(child.before(links.otherEnd()), child));
        } else if (many instanceof PivotAttribute pivot) {
            Select select = SelectWriter.pairs(dialect, pivot, keys, conditions);
            into.reader()
                    .read(
                            Causes.read(pivot, keys.size()),
                            pivot.target(),
                            select.text(),
                            (element, result, index) ->
                                    found.add(KeyedRows.value(transaction, pivot.near(), result, index), element));
        }
    }

    /** The entities whose tables are read for the elements. */
    Set<ModelEntity<?>> reads(ModelEntity<?> entity, Choice<?, ?, ?> excerpt) {
        Dialect dialect = transaction.database().dialect();
        return collection(entity, excerpt) instanceof LinksAttribute links
                ? SelectWriter.elements(dialect, links, List.of(0), excerpt.conditions())
                        .reads()
                : SelectWriter.pairs(
                                dialect, (PivotAttribute) collection(entity, excerpt), List.of(0), excerpt.conditions())
                        .reads();
    }

    private static ToMany collection(ModelEntity<?> entity, Choice<?, ?, ?> excerpt) {
        Attribute attribute = entity.attribute(excerpt.collection());
        if (attribute instanceof ToMany many) {
            return many;
        }
        throw new BathraException(attribute + " is no collection of entities");
    }
}
