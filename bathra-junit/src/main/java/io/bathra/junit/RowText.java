package io.bathra.junit;

import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.model.EntityOutline;
import io.bathra.model.EntityOutline.Column;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * The rows of tables as texts that are the same in each run: a key that was drawn is the table's name and the place of
 * its row, wherever it stands, and the time of the test's clock is {@code now}.
 */
final class RowText {
    private static final String NOTHING = "-";
    private static final Pattern TIME = Pattern.compile("\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d:\\d\\d(\\.\\d+)?Z?");

    private final Store store;
    private final Clock clock;

    /** What rows are called, by the table and the key as a text. */
    private final Map<String, Map<String, String>> names = new HashMap<>();

    private final Map<String, List<Map<String, @Nullable Object>>> read = new HashMap<>();

    RowText(Store store, Clock clock) {
        this.store = store;
        this.clock = clock;
    }

    /** All tables of the model. */
    String all() {
        return store.model().tables().stream()
                .filter(table -> table.kind() != EntityOutline.Kind.VIEW)
                .map(table -> of(table.table(), List.of()))
                .collect(Collectors.joining("\n"));
    }

    /**
     * A table: its name, the names of its columns, and its rows in the order of their keys.
     *
     * @param columns those to show; empty for all
     */
    String of(String table, List<String> columns) {
        EntityOutline outline = outline(table);
        List<Column> shown = columns.isEmpty()
                ? outline.columns()
                : columns.stream().map(name -> column(outline, name)).toList();
        List<List<String>> lines = new ArrayList<>();
        lines.add(shown.stream().map(Column::name).toList());
        for (Map<String, @Nullable Object> row : rows(outline)) {
            lines.add(shown.stream().map(column -> text(outline, column, row)).toList());
        }
        return table + "\n" + aligned(lines);
    }

    /** Cells below one another. */
    static String aligned(List<List<String>> lines) {
        int[] widths = new int[lines.get(0).size()];
        for (List<String> line : lines) {
            for (int i = 0; i < widths.length && i < line.size(); i++) {
                widths[i] = Math.max(widths[i], line.get(i).length());
            }
        }
        StringBuilder text = new StringBuilder();
        for (List<String> line : lines) {
            String joined = IntStream.range(0, line.size())
                    .mapToObj(i -> i < widths.length
                            ? String.format("%-" + Math.max(1, widths[i]) + "s", line.get(i))
                            : line.get(i))
                    .collect(Collectors.joining(" | "));
            text.append("  ").append(joined.stripTrailing()).append('\n');
        }
        return text.toString();
    }

    private EntityOutline outline(String table) {
        return store.model().tables().stream()
                .filter(one -> one.table().equals(table))
                .findFirst()
                .orElseThrow(() -> new BathraException("the model has no table '" + table + "'; it has "
                        + store.model().tables().stream()
                                .map(EntityOutline::table)
                                .toList()));
    }

    private static Column column(EntityOutline outline, String name) {
        return outline.columns().stream()
                .filter(column -> column.name().equals(name))
                .findFirst()
                .orElseThrow(() ->
                        new BathraException("the table " + outline.table() + " has no column '" + name + "'; it has "
                                + outline.columns().stream().map(Column::name).toList()));
    }

    private List<Map<String, @Nullable Object>> rows(EntityOutline outline) {
        List<Map<String, @Nullable Object>> known = read.get(outline.table());
        if (known != null) {
            return known;
        }
        List<Map<String, @Nullable Object>> rows = new ArrayList<>();
        for (Map<String, @Nullable Object> row :
                store.sql("select * from " + quoted(outline.table())).list()) {
            Map<String, @Nullable Object> folded = new LinkedHashMap<>();
            row.forEach((name, value) -> folded.put(name.toLowerCase(Locale.ROOT), value));
            rows.add(folded);
        }
        List<Column> key = outline.columns().stream().filter(Column::key).toList();
        Comparator<Map<String, @Nullable Object>> order = (unused, unusedToo) -> 0;
        for (Column column : key.isEmpty() ? outline.columns() : key) {
            order = order.thenComparing((Map<String, @Nullable Object> a, Map<String, @Nullable Object> b) ->
                    compared(value(a, column), value(b, column)));
        }
        rows.sort(order);
        read.put(outline.table(), rows);
        return rows;
    }

    @SuppressWarnings("unchecked") // values of one column are of one class
    private static int compared(@Nullable Object a, @Nullable Object b) {
        return a instanceof Comparable<?> && b != null && a.getClass() == b.getClass()
                ? ((Comparable<Object>) a).compareTo(b)
                : plain(a).compareTo(plain(b));
    }

    private String quoted(String name) {
        String mark = store.databaseName().equals("MariaDB") ? "`" : "\"";
        return name.matches("[a-z][a-z0-9_]*") ? name : mark + name.replace(mark, mark + mark) + mark;
    }

    private static @Nullable Object value(Map<String, @Nullable Object> row, Column column) {
        return row.get(column.name().toLowerCase(Locale.ROOT));
    }

    private String text(EntityOutline outline, Column column, Map<String, @Nullable Object> row) {
        Object value = value(row, column);
        if (value == null) {
            return NOTHING;
        }
        String link = outline.links().stream()
                .filter(one -> one.attribute().equals(column.attribute()))
                .map(EntityOutline.LinkTo::target)
                .findFirst()
                .orElse(null);
        if (link != null) {
            EntityOutline target = store.model().tables().stream()
                    .filter(one -> one.name().equals(link))
                    .findFirst()
                    .orElseThrow();
            return named(target, value);
        }
        return column.key() && outline.key().size() == 1 ? named(outline, value) : shown(value);
    }

    /** The name of the row with a key, where the key says nothing by itself. */
    private String named(EntityOutline outline, Object key) {
        List<Column> columns = outline.columns().stream().filter(Column::key).toList();
        boolean speaking = key instanceof String || columns.size() != 1 || outline.kind() == EntityOutline.Kind.VIEW;
        if (speaking) {
            return shown(key);
        }
        Map<String, String> known = names.get(outline.table());
        if (known == null) {
            known = new HashMap<>();
            int number = 0;
            for (Map<String, @Nullable Object> row : rows(outline)) {
                known.put(plain(value(row, columns.get(0))), outline.table() + "#" + ++number);
            }
            names.put(outline.table(), known);
        }
        return known.getOrDefault(plain(key), "?" + plain(key));
    }

    private String shown(Object value) {
        Instant now = clock.instant();
        boolean is = value.equals(now)
                || (value instanceof OffsetDateTime time && time.toInstant().equals(now))
                || (value instanceof LocalDateTime local && local.equals(LocalDateTime.ofInstant(now, ZoneOffset.UTC)))
                || (value instanceof String text && isTime(text, LocalDateTime.ofInstant(now, ZoneOffset.UTC)));
        String text = plain(value);
        return is ? "now" : text.isEmpty() ? "''" : text.replace("\n", "\\n");
    }

    /** SQLite keeps times as texts. */
    private static boolean isTime(String text, LocalDateTime time) {
        return TIME.matcher(text).matches()
                && LocalDateTime.parse(text.replace("Z", "")).equals(time);
    }

    private static String plain(@Nullable Object value) {
        return value instanceof byte[] bytes ? HexFormat.of().formatHex(bytes) : String.valueOf(value);
    }

    // ---- expected rows

    /** The same lines as a text that was written by hand says, from what is there; and that text, aligned. */
    record Comparison(String expected, String actual) {}

    /** Blocks of lines, with blank ones between: the name of a table, names of some of its columns, rows. */
    Comparison compared(String expected) {
        StringBuilder wanted = new StringBuilder();
        StringBuilder there = new StringBuilder();
        for (String block : expected.strip().split("\\n\\s*\\n")) {
            List<String> lines = block.lines().map(String::strip).toList();
            if (lines.size() < 2) {
                throw new BathraException(
                        "a table is told by its name, a line with names of columns, and its rows; this" + " is: "
                                + block);
            }
            List<List<String>> cells = lines.stream()
                    .skip(1)
                    .map(line -> Arrays.stream(line.split("\\|", -1))
                            .map(String::strip)
                            .toList())
                    .toList();
            wanted.append(lines.get(0)).append('\n').append(aligned(cells));
            there.append(of(lines.get(0), cells.get(0)));
        }
        return new Comparison(wanted.toString(), there.toString());
    }
}
