package io.bathra.cli.load;

import io.bathra.error.BathraException;
import io.bathra.model.EntityOutline;
import io.bathra.model.EntityOutline.LinkTo;
import io.bathra.model.Model;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * What the columns of a file mean to an entity. A column is named like an attribute, {@code callSign}; like a column of
 * the table,
 * {@code call_sign} or {@code Call sign}; like a link with what is unique in its target, {@code vessel.imo}; or like a
 * pivot, with a list of what is unique in the elements, {@code pilots.badge}. Columns that begin with {@code #} are
 * notes.
 */
final class Columns {
    private static final String NOTE = "#";

    private final List<@Nullable String> names; // null for columns that mean nothing
    private final List<PairColumn> pairs;
    private final EntityOutline entity;
    private final Set<Integer> secrets = new HashSet<>();

    /**
     * A column with lists of elements.
     *
     * @param index its place in the file
     * @param pivot the attribute of the association
     * @param by the attribute that tells an element; null for its key
     */
    record PairColumn(int index, String pivot, @Nullable String by) {}

    private Columns(Model model, EntityOutline entity, List<@Nullable String> names, List<PairColumn> pairs) {
        this.entity = entity;
        this.names = names;
        this.pairs = List.copyOf(pairs);
        for (int i = 0; i < names.size(); i++) {
            String name = names.get(i);
            if (name != null && isSecret(model, entity, name)) {
                secrets.add(i);
            }
        }
    }

    private static boolean isSecret(Model model, EntityOutline entity, String name) {
        boolean own = entity.columns().stream()
                .anyMatch(column -> column.secret()
                        && List.of(
                                        column.attribute(),
                                        column.label(),
                                        column.name().toLowerCase(Locale.ROOT))
                                .contains(name));
        return own
                || entity.links().stream()
                        .anyMatch(link -> target(model, link.target()).columns().stream()
                                .filter(EntityOutline.Column::secret)
                                .map(column -> link.attribute() + "." + column.attribute())
                                .anyMatch(natural -> natural.equals(name)
                                        || camel(natural.replace('.', '_')).equals(name)));
    }

    /**
     * Finds out what each column of a header means.
     *
     * @param renamed other names for columns of the file
     * @param skipped columns that mean nothing
     * @throws BathraException when a column means nothing to the entity
     */
    static Columns of(
            Model model, EntityOutline entity, List<String> header, Map<String, String> renamed, Set<String> skipped) {
        for (String given : renamed.keySet()) {
            refuseUnknown(header, given, "--map");
        }
        for (String given : skipped) {
            refuseUnknown(header, given, "--skip");
        }
        List<@Nullable String> names = new ArrayList<>();
        List<PairColumn> pairs = new ArrayList<>();
        for (int i = 0; i < header.size(); i++) {
            String column = header.get(i);
            if (column.startsWith(NOTE) || skipped.contains(column)) {
                names.add(null);
                continue;
            }
            String meant = renamed.getOrDefault(column, column);
            Optional<PairColumn> pair = pair(entity, i, meant);
            pair.ifPresent(pairs::add);
            names.add(pair.isPresent() ? null : name(model, entity, column, meant));
        }
        return new Columns(model, entity, names, pairs);
    }

    private static void refuseUnknown(List<String> header, String column, String option) {
        if (!header.contains(column)) {
            throw new BathraException(option + " names the column '" + column + "', but the file has " + header);
        }
    }

    private static Optional<PairColumn> pair(EntityOutline entity, int index, String name) {
        int dot = name.indexOf('.');
        String first = dot < 0 ? name : name.substring(0, dot);
        return entity.pivots().stream()
                .filter(pivot -> pivot.attribute().equals(first))
                .findFirst()
                .map(pivot -> new PairColumn(index, pivot.attribute(), dot < 0 ? null : name.substring(dot + 1)));
    }

    private static String name(Model model, EntityOutline entity, String column, String meant) {
        String snake = meant.strip().replaceAll("[ -]+", "_").toLowerCase(Locale.ROOT);
        for (String name : List.of(meant, camel(snake), snake)) {
            if (isKnown(model, entity, name)) {
                return name;
            }
        }
        Set<String> possible = new LinkedHashSet<>();
        for (EntityOutline.Column one : entity.columns()) {
            entity.link(one.attribute())
                    .ifPresentOrElse(link -> possible.addAll(naturals(model, link)), () -> possible.add(one.label()));
        }
        entity.pivots()
                .forEach(pivot -> target(model, pivot.target())
                        .tellingAlone()
                        .forEach(by -> possible.add(pivot.attribute() + "." + by)));
        throw new BathraException("the column '" + column + "' means nothing to " + entity.name()
                + (entity.parts().stream().anyMatch(parts -> parts.attribute().equals(meant))
                        ? ": its parts are stored with an entity in a unit of work"
                        : "; it has " + String.join(", ", possible) + "; say what is meant by --map '" + column
                                + "=...', or --skip it"));
    }

    private static boolean isKnown(Model model, EntityOutline entity, String name) {
        int dot = name.indexOf('.');
        if (dot > 0) {
            return isAttribute(entity, name.substring(0, dot));
        }
        return entity.columns().stream()
                        .anyMatch(column ->
                                column.attribute().equals(name) || column.name().equalsIgnoreCase(name))
                || entity.links().stream()
                        .anyMatch(link -> naturals(model, link).stream()
                                .anyMatch(natural ->
                                        camel(natural.replace('.', '_')).equals(name)));
    }

    private static boolean isAttribute(EntityOutline entity, String name) {
        return entity.columns().stream().anyMatch(column -> column.attribute().equals(name))
                || entity.toManys().stream().anyMatch(many -> many.attribute().equals(name))
                || entity.pivots().stream().anyMatch(pivot -> pivot.attribute().equals(name))
                || entity.parts().stream().anyMatch(parts -> parts.attribute().equals(name));
    }

    private static List<String> naturals(Model model, LinkTo link) {
        return target(model, link.target()).tellingAlone().stream()
                .map(by -> link.attribute() + "." + by)
                .toList();
    }

    private static EntityOutline target(Model model, String entity) {
        return model.entities().stream()
                .filter(one -> one.name().equals(entity))
                .findFirst()
                .orElseThrow();
    }

    private static String camel(String name) {
        StringBuilder camel = new StringBuilder();
        boolean upper = false;
        for (int i = 0; i < name.length(); i++) {
            char c = name.charAt(i);
            if (c == '_') {
                upper = true;
            } else {
                camel.append(upper && !camel.isEmpty() ? Character.toUpperCase(c) : c);
                upper = false;
            }
        }
        return camel.toString();
    }

    /** The columns of the file whose values are secret, by their places. */
    Set<Integer> secrets() {
        return secrets;
    }

    /** The columns with lists. */
    List<PairColumn> pairs() {
        return pairs;
    }

    /** The row that a line stands for, its values by the names of attributes. */
    Map<String, @Nullable String> row(List<String> values) {
        Map<String, @Nullable String> row = new LinkedHashMap<>();
        for (int i = 0; i < names.size(); i++) {
            String name = names.get(i);
            if (name != null) {
                row.put(name, values.get(i));
            }
        }
        return row;
    }

    /** The column of the file behind a name of {@link #row}, or behind an attribute; -1 for none. */
    int index(String name) {
        for (int i = 0; i < names.size(); i++) {
            String own = names.get(i);
            if (own != null && (own.equals(name) || camel(own).equals(name) || isColumnOf(own, name))) {
                return i;
            }
        }
        return -1;
    }

    private boolean isColumnOf(String name, String attribute) {
        List<EntityOutline.Column> columns = entity.columns().stream()
                .filter(column -> column.attribute().equals(attribute))
                .toList();
        return columns.size() == 1 && columns.get(0).name().equalsIgnoreCase(name);
    }

    /**
     * The attribute that tells the owner of a line's pairs.
     *
     * @param preferred the attributes that tell whether a row is there; may be empty
     * @throws BathraException when no column of the file tells it
     */
    String owner(List<String> preferred) {
        if (preferred.size() == 1 && index(preferred.get(0)) >= 0) {
            return preferred.get(0);
        }
        return entity.tellingAlone().stream()
                .filter(name -> index(name) >= 0)
                .findFirst()
                .orElseThrow(() -> new BathraException("the lists in "
                        + pairs.stream().map(PairColumn::pivot).collect(Collectors.joining(", "))
                        + " need a column that tells the " + entity.name() + " by itself: one of "
                        + entity.tellingAlone()));
    }
}
