package io.bathra.cli.measure;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.form.EntityForm;
import io.bathra.form.FormField;
import io.bathra.form.GroupField;
import io.bathra.form.LinkField;
import io.bathra.form.ValueField;
import io.bathra.model.EntityOutline;
import io.bathra.model.EntityOutline.Column;
import java.time.Instant;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/** The statement that somebody would write by hand for a row of an entity, and its values. */
final class PlainInsert {
    private final EntityOutline entity;
    private final EntityForm<?> form;
    private final List<Column> columns = new ArrayList<>();
    private final String sql;

    /**
     * @param sample an object that is not stored: a flush says what it would do with it
     */
    PlainInsert(Store store, RowMaker maker, Object sample) {
        entity = maker.entity();
        form = maker.form();
        String planned = planned(store, sample);
        int open = planned.indexOf('(');
        int close = planned.indexOf(')', open);
        int values = planned.indexOf("values (", close);
        if (values < 0) {
            throw new BathraException("a flush stores " + entity.name() + " by no plain insert");
        }
        String[] names = planned.substring(open + 1, close).split(", ");
        String[] places = planned.substring(values + "values (".length(), planned.lastIndexOf(')'))
                .split(", ");
        List<String> named = new ArrayList<>();
        List<String> given = new ArrayList<>();
        for (int i = 0; i < names.length; i++) {
            Column column = column(names[i]);
            if (!isDrawn(column)) {
                columns.add(column);
                named.add(names[i]);
                given.add(places[i].replace("?", ":v" + named.size()));
            }
        }
        sql = planned.substring(0, open + 1) + String.join(", ", named) + ") values (" + String.join(", ", given) + ")";
    }

    private static String planned(Store store, Object sample) {
        try (UnitOfWork work = store.begin()) {
            work.add(sample);
            String statement = work.plan().steps().stream()
                    .filter(step -> !step.isCascade())
                    .map(step -> step.statement())
                    .reduce((first, last) -> last)
                    .orElseThrow();
            work.discard();
            return statement;
        }
    }

    private Column column(String quoted) {
        String name = quoted.replaceAll("[`\"\\[\\]]", "");
        return entity.columns().stream()
                .filter(one -> one.name().equalsIgnoreCase(name))
                .findFirst()
                .orElseThrow(() -> new BathraException("the column " + quoted + " is none of " + entity.name()));
    }

    /** A number that the database draws when none is given. */
    private boolean isDrawn(Column column) {
        FormField field = form.field(column.attribute());
        return column.key()
                && field instanceof ValueField
                && !field.isSettable()
                && !column.type().equals("uuid");
    }

    String sql() {
        return sql;
    }

    /** The values of an object, by the names that stand in the statement. */
    Map<String, @Nullable Object> values(Object object) {
        Map<String, @Nullable Object> values = new LinkedHashMap<>();
        for (Column column : columns) {
            values.put("v" + (values.size() + 1), value(object, column));
        }
        return values;
    }

    private @Nullable Object value(Object object, Column column) {
        FormField field = form.field(column.attribute());
        if (field == null) {
            return null;
        }
        String[] way = column.label().split("\\.");
        Object value = within(field, object, Arrays.asList(way).subList(1, way.length));
        return value != null || field.isSettable() ? value : filledByTheLibrary(column);
    }

    private static @Nullable Object within(FormField field, Object owner, List<String> way) {
        if (field instanceof ValueField value) {
            return value.in(owner);
        } else if (field instanceof LinkField link) {
            Object key = link.in(owner);
            return key == null ? null : within(link.key(), key, way);
        } else if (field instanceof GroupField group) {
            Object content = group.in(owner);
            return content == null || way.isEmpty()
                    ? null
                    : group.members().stream()
                            .filter(member -> member.name().equals(way.get(0)))
                            .findFirst()
                            .map(member -> within(member, content, way.subList(1, way.size())))
                            .orElse(null);
        }
        return null;
    }

    /** Versions, stamps, and keys that it makes itself. */
    private static @Nullable Object filledByTheLibrary(Column column) {
        return switch (column.type()) {
            case "uuid" -> UUID.randomUUID();
            case "integer", "long", "short" -> 0;
            case "instant" -> Instant.now();
            case "date time" -> LocalDateTime.now();
            default -> null;
        };
    }
}
