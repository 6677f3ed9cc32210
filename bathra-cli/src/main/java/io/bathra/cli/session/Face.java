package io.bathra.cli.session;

import io.bathra.SqlCall;
import io.bathra.answer.QueryText;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import io.bathra.query.Query;
import io.bathra.query.Selecting;
import java.lang.reflect.Array;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntSupplier;
import java.util.stream.BaseStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * How results look. No method of the user's is called but accessors of records and of entities' columns: a
 * {@code toString} may read links, or never end.
 */
final class Face {
    /** What is shown in place of null. */
    static final String NONE = "-";

    private static final int DEEPEST = 3;
    private static final int FEW = 5;
    private static final int LONGEST = 2_000;

    private final Model model;
    private final IntSupplier width;
    private final Map<Class<?>, Optional<EntityFace>> entities = new HashMap<>();
    private int rows = 20;

    /**
     * @param width of the terminal, whenever it is asked
     */
    Face(Model model, IntSupplier width) {
        this.model = model;
        this.width = width;
    }

    /** How many rows of a list are shown. */
    int rows() {
        return rows;
    }

    void rows(int most) {
        rows = most;
    }

    /** A result. */
    Printed of(@Nullable Object value) {
        if (value == null) {
            return Printed.plain("null");
        }
        EntityFace entity = entity(value);
        if (entity != null) {
            return entity.whole(value, width.getAsInt());
        } else if (value instanceof Links<?> links) {
            return links.isRead() ? list(links.asList().iterator(), links.size()) : Printed.plain(unread());
        } else if (value instanceof Selecting<?> query) {
            return query(query);
        } else if (value instanceof SqlCall<?> call) {
            return Printed.plain(Cells.safe(call.toString()))
                    .and(Printed.of(Printed.Look.FAINT, "not executed: .list(), .first(), .one() or .execute() does"));
        } else if (value instanceof Map<?, ?> map) {
            return map(map);
        } else if (value instanceof Collection<?> collection) {
            return list(collection.iterator(), collection.size());
        } else if (value instanceof BaseStream<?, ?> stream) {
            try (stream) {
                return list(stream.iterator(), -1);
            }
        } else if (value.getClass().isArray()) {
            return list(elements(value).iterator(), Array.getLength(value));
        } else if (value instanceof Optional<?> optional) {
            return optional.isEmpty() ? Printed.plain("empty") : of(optional.get());
        } else if (value instanceof CharSequence text) {
            return Printed.plain(Cells.cut('"' + Cells.safe(text.toString()) + '"', LONGEST));
        } else if (isOurs(value)) {
            String text = lines(String.valueOf(value));
            return text.isBlank() ? Printed.of(Printed.Look.FAINT, "none") : Printed.plain(text);
        }
        return Printed.plain(Cells.cut(brief(value, 0), LONGEST));
    }

    private Printed query(Selecting<?> query) {
        String words = "not executed: .list(), .first(), .one(), .count() or .stream() does";
        if (!(query instanceof Query<?> plain)) {
            return Printed.of(Printed.Look.FAINT, "a grouping; ask it .as(...) for values");
        }
        QueryText text = plain.sql();
        Printed printed = Printed.plain(lines(text.sql()));
        if (!text.parameters().isEmpty()) {
            printed = printed.and(Printed.plain(
                    "with " + Cells.cut(Cells.safe(String.valueOf(text.parameters())), width.getAsInt())));
        }
        return printed.and(Printed.of(Printed.Look.FAINT, words));
    }

    private static String unread() {
        return "not read: .asList() reads it, .size() counts";
    }

    /** A text of several lines, each of them safe. */
    private static String lines(String text) {
        StringBuilder lines = new StringBuilder();
        text.lines().forEach(line -> lines.append(lines.isEmpty() ? "" : "\n").append(Cells.safe(line)));
        return lines.toString();
    }

    // ---- lists

    /**
     * The first rows of many.
     *
     * @param size how many there are; -1 where that is known only by going through them all
     */
    private Printed list(Iterator<?> elements, int size) {
        List<@Nullable Object> shown = new ArrayList<>();
        while (shown.size() < rows && elements.hasNext()) {
            shown.add(elements.next());
        }
        if (shown.isEmpty()) {
            return Printed.of(Printed.Look.FAINT, "none");
        }
        boolean more = size < 0 ? elements.hasNext() : size > shown.size();
        Printed printed = rows(shown);
        if (more) {
            printed = printed.and(Printed.of(
                    Printed.Look.FAINT,
                    size < 0 ? "… and more" : "… " + String.format(Locale.ROOT, "%,d", size - shown.size()) + " more"));
        }
        return printed;
    }

    private Printed rows(List<@Nullable Object> elements) {
        Object first = elements.get(0);
        Class<?> type = first == null ? Object.class : first.getClass();
        boolean same = elements.stream().allMatch(one -> one != null && one.getClass() == type);
        EntityFace entity = first == null ? null : entity(first);
        if (same && entity != null) {
            Grid grid = new Grid(entity.heads());
            elements.forEach(one -> grid.row(entity.cells(one)));
            return grid.printed(width.getAsInt());
        } else if (same && type.isRecord()) {
            RecordComponent[] components = type.getRecordComponents();
            Grid grid =
                    new Grid(Stream.of(components).map(RecordComponent::getName).toList());
            elements.forEach(one -> grid.row(components(one, components, 1)));
            return grid.printed(width.getAsInt());
        } else if (elements.stream().allMatch(Map.class::isInstance)) {
            return maps(elements);
        }
        List<String> lines = elements.stream()
                .map(one -> Cells.cut(brief(one, 0), width.getAsInt()))
                .toList();
        return Printed.plain(String.join("\n", lines));
    }

    private Printed maps(List<@Nullable Object> maps) {
        Set<Object> keys = new LinkedHashSet<>();
        maps.forEach(one -> keys.addAll(((Map<?, ?>) one).keySet()));
        Grid grid = new Grid(keys.stream().map(key -> brief(key, 1)).toList());
        maps.forEach(one -> grid.row(keys.stream()
                .map(key -> brief(((Map<?, ?>) one).get(key), 1))
                .toList()));
        return keys.isEmpty() ? Printed.plain("{}") : grid.printed(width.getAsInt());
    }

    private Printed map(Map<?, ?> map) {
        if (map.isEmpty()) {
            return Printed.of(Printed.Look.FAINT, "none");
        }
        Grid grid = new Grid(List.of("key", "value"));
        map.entrySet().stream()
                .limit(rows)
                .forEach(entry -> grid.row(List.of(brief(entry.getKey(), 1), brief(entry.getValue(), 1))));
        Printed printed = grid.printed(width.getAsInt());
        return map.size() <= rows
                ? printed
                : printed.and(Printed.of(
                        Printed.Look.FAINT, "… " + String.format(Locale.ROOT, "%,d", map.size() - rows) + " more"));
    }

    // ---- in a line

    /** A value within a line. */
    String brief(@Nullable Object value) {
        return brief(value, 0);
    }

    private String brief(@Nullable Object value, int depth) {
        if (value == null) {
            return depth == 0 ? "null" : NONE;
        }
        EntityFace entity = entity(value);
        if (entity != null) {
            return Cells.safe(entity.name(value));
        } else if (value instanceof CharSequence text) {
            return Cells.safe(text.toString());
        } else if (value instanceof Enum<?> constant) {
            return constant.name();
        } else if (value instanceof Link<?> link) {
            return link(link);
        } else if (value instanceof Links<?> links && !links.isRead()) {
            return "(not read)";
        } else if (depth >= DEEPEST) {
            return value.getClass().getSimpleName();
        } else if (value instanceof Optional<?> optional) {
            return optional.isEmpty() ? "empty" : brief(optional.get(), depth + 1);
        } else if (value instanceof Collection<?> collection) {
            return several(collection.iterator(), collection.size(), depth);
        } else if (value.getClass().isArray()) {
            return several(elements(value).iterator(), Array.getLength(value), depth);
        } else if (value instanceof Map<?, ?> map) {
            return several(
                    map.entrySet().stream()
                            .map(entry -> brief(entry.getKey(), depth + 1) + "=" + brief(entry.getValue(), depth + 1))
                            .iterator(),
                    map.size(),
                    depth);
        } else if (value instanceof Throwable failure) {
            return failure.getClass().getSimpleName() + ": " + Cells.safe(String.valueOf(failure.getMessage()));
        } else if (value instanceof Record) {
            RecordComponent[] components = value.getClass().getRecordComponents();
            return named(
                    value,
                    Stream.of(components).map(RecordComponent::getName).toList(),
                    components(value, components, depth + 1));
        }
        return isOurs(value) || isOfJava(value) ? Cells.safe(String.valueOf(value)) : fields(value, depth);
    }

    private String link(Link<?> link) {
        if (link.isRead()) {
            return link.isEmpty() ? NONE : brief(link.get(), 1);
        }
        return link.key() == null ? "(not read)" : "#" + brief(link.key(), 1);
    }

    private String several(Iterator<?> elements, int size, int depth) {
        StringBuilder text = new StringBuilder("[");
        for (int i = 0; i < FEW && elements.hasNext(); i++) {
            text.append(i == 0 ? "" : ", ").append(brief(elements.next(), depth + 1));
        }
        return text.append(size > FEW ? ", … " + (size - FEW) + " more]" : "]").toString();
    }

    private List<String> components(Object record, RecordComponent[] components, int depth) {
        List<String> cells = new ArrayList<>();
        for (RecordComponent component : components) {
            try {
                component.getAccessor().setAccessible(true);
                cells.add(brief(component.getAccessor().invoke(record), depth));
            } catch (ReflectiveOperationException | RuntimeException e) {
                cells.add("(hidden)");
            }
        }
        return cells;
    }

    /** The fields of an object of which nothing is known. */
    private String fields(Object value, int depth) {
        List<String> names = new ArrayList<>();
        List<String> texts = new ArrayList<>();
        for (Field field : value.getClass().getDeclaredFields()) {
            if (!Modifier.isStatic(field.getModifiers()) && !field.isSynthetic()) {
                try {
                    field.setAccessible(true);
                    texts.add(brief(field.get(value), depth + 1));
                    names.add(field.getName());
                } catch (ReflectiveOperationException | RuntimeException e) {
                    return value.getClass().getSimpleName();
                }
            }
        }
        return value.getClass().isSynthetic() ? "a function" : named(value, names, texts);
    }

    private static String named(Object value, List<String> names, List<String> texts) {
        StringBuilder text = new StringBuilder(value.getClass().getSimpleName()).append('(');
        for (int i = 0; i < names.size(); i++) {
            text.append(i == 0 ? "" : ", ").append(names.get(i)).append('=').append(texts.get(i));
        }
        return text.append(')').toString();
    }

    private static List<@Nullable Object> elements(Object array) {
        List<@Nullable Object> elements = new ArrayList<>();
        for (int i = 0; i < Array.getLength(array); i++) {
            elements.add(Array.get(array, i));
        }
        return elements;
    }

    /** Of the library, whose texts read nothing. Its examples are users. */
    private static boolean isOurs(Object value) {
        return value.getClass().getModule().equals(Model.class.getModule())
                && value.getClass().getClassLoader() == Model.class.getClassLoader()
                && isOfLibrary(value.getClass().getPackageName());
    }

    private static boolean isOfLibrary(String room) {
        return room.equals("io.bathra") || (room.startsWith("io.bathra.") && !room.startsWith("io.bathra.examples"));
    }

    /** Of the JDK, but nothing that holds objects of others. */
    private static boolean isOfJava(Object value) {
        ClassLoader loader = value.getClass().getClassLoader();
        return loader == null || loader == ClassLoader.getPlatformClassLoader();
    }

    /** The face of an entity, as far as it is one. */
    @Nullable
    EntityFace entity(Object value) {
        return entities.computeIfAbsent(value.getClass(), this::find).orElse(null);
    }

    private Optional<EntityFace> find(Class<?> type) {
        return model.entities().stream()
                .filter(outline -> outline.type() == type
                        && (outline.kind() == EntityOutline.Kind.ENTITY || outline.kind() == EntityOutline.Kind.VIEW))
                .findFirst()
                .map(outline -> new EntityFace(model, outline));
    }
}
