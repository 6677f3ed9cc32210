package io.bathra.contract;

import io.bathra.attr.DeleteRule;
import io.bathra.history.Convention;
import io.bathra.history.Draft;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import io.bathra.mapping.KeySource;
import io.bathra.question.SearchCondition;
import io.bathra.question.SearchCondition.Operator;
import io.bathra.question.Term;
import io.bathra.schema.Field;
import io.bathra.schema.FieldPath;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.UUID;

/**
 * A layout of entities, parts and pivots with all that a model can say of them. Two of them have much in common, since
 * names come from a small stock, and much that has another name, or is otherwise.
 */
final class RandomLayout {
    /** What an entity can be called; whichever name it has, its key is of one kind. */
    private static final List<List<String>> ENTITIES = List.of(
            List.of("Berth", "Quay"),
            List.of("Vessel", "Ship"),
            List.of("Pilot", "Guide"),
            List.of("Seal", "Mark"),
            List.of("Order", "Wish"));

    private static final List<List<String>> FIELDS = List.of(
            List.of("name", "title"),
            List.of("grossKilos", "weight"),
            List.of("since", "begun"),
            List.of("open", "free"),
            List.of("address.city", "address.town"),
            List.of("address.street", "address.way"),
            List.of("grade", "rank"),
            List.of("remark", "note"));

    private static final List<List<String>> LINKS = List.of(List.of("home", "base"), List.of("next", "follower"));

    private final Random random;
    private final TestDatabase database;
    private final Map<String, Sheet> sheets = new LinkedHashMap<>();

    /** What most fields are taken from. */
    private final Layout like;

    /** Whether no row that is there can be in the way. */
    private final boolean gentle;

    RandomLayout(TestDatabase database, Random random) {
        this(database, random, Layout.EMPTY, false);
    }

    private RandomLayout(TestDatabase database, Random random, Layout like, boolean gentle) {
        this.database = database;
        this.random = random;
        this.like = like;
        this.gentle = gentle;
    }

    /** One that has most fields of another, with rows of which half of all can live. */
    static Layout after(Layout first, TestDatabase database, Random random) {
        return new RandomLayout(database, random, first, random.nextBoolean()).layout();
    }

    /** What has become what in another layout: half of what has another name from the same stock there. */
    static Map<String, String> renamed(Layout from, Layout to, Random random) {
        Map<String, String> renamed = new LinkedHashMap<>();
        Map<String, String> entities = new LinkedHashMap<>();
        for (List<String> names : ENTITIES) {
            names.stream()
                    .filter(from.sheets()::containsKey)
                    .forEach(old -> names.stream()
                            .filter(to.sheets()::containsKey)
                            .forEach(now -> {
                                if (old.equals(now)) {
                                    entities.put(old, now);
                                } else if (random.nextBoolean()) {
                                    renamed.put(old, now);
                                    entities.put(old, now);
                                }
                            }));
        }
        List<List<String>> all = new ArrayList<>(FIELDS);
        all.addAll(LINKS);
        entities.forEach((old, now) -> all.forEach(names -> {
            Sheet before = from.sheets().get(old);
            Sheet after = to.sheets().get(now);
            for (String name : names) {
                String other = names.get(1 - names.indexOf(name));
                if (before.field(name).isPresent()
                        && before.field(other).isEmpty()
                        && after.field(other).isPresent()
                        && after.field(name).isEmpty()
                        && canBecome(
                                before.field(name).get(), after.field(other).get(), entities)
                        && random.nextBoolean()) {
                    renamed.put(now + "." + name, other);
                }
            }
        }));
        return renamed;
    }

    private static boolean canBecome(Field field, Field wanted, Map<String, String> entities) {
        return field instanceof Field.OfLink one && wanted instanceof Field.OfLink other
                ? other.to().equals(entities.get(one.to()))
                : !Draft.isAnother(field, wanted);
    }

    Layout layout() {
        for (List<String> names : ENTITIES) {
            if (random.nextInt(4) > 0) {
                String name = any(names);
                sheets.put(name, entity(ENTITIES.indexOf(names), name));
            }
        }
        for (Sheet entity : List.copyOf(sheets.values())) {
            links(entity);
        }
        for (Sheet entity : List.copyOf(sheets.values())) {
            rules(sheets.get(entity.name()));
        }
        for (Sheet entity : List.copyOf(sheets.values())) {
            if (random.nextInt(3) == 0) {
                parts(entity, any(List.of("remarks", "seals")));
            }
            if (random.nextInt(3) == 0) {
                pivot(entity, any(List.of("partners", "helpers")));
            }
        }
        return Layout.of(List.copyOf(sheets.values()), random.nextInt(4) == 0 ? "commit_token" : null);
    }

    private <T> T any(List<T> list) {
        return list.get(random.nextInt(list.size()));
    }

    private Sheet entity(int kind, String name) {
        List<Field> fields = new ArrayList<>();
        KeySource source = KeySource.ASSIGNED;
        int key = 1;
        switch (kind) {
            case 0 -> {
                fields.add(column("id", "id", key(kind, "id", number()), true));
                source = KeySource.GENERATED;
            }
            case 1 ->
                fields.add(column("code", "code", key(kind, "code", ColumnType.text(8 + random.nextInt(3))), true));
            case 2 -> {
                fields.add(column("id", "id", key(kind, "id", number()), true));
                source = any(List.of(KeySource.GENERATED, KeySource.ASSIGNED, new KeySource.KeyTable("keys", 5)));
            }
            case 3 -> {
                fields.add(column("number", "number", type(Integer.class), true));
                fields.add(column("place", "place", ColumnType.text(12), true));
                key = 2;
            }
            default -> {
                fields.add(column("id", "id", type(UUID.class), true));
                source = KeySource.TIME_ORDERED;
            }
        }
        for (List<String> names : FIELDS) {
            ColumnType known = known(kind, names);
            if (known != null && random.nextInt(4) > 0) {
                String field = any(names);
                fields.add(column(field, Convention.column(field), known, !gentle && random.nextInt(6) == 0));
            } else if (random.nextInt(2) == 0) {
                String field = any(names);
                String column =
                        random.nextInt(5) == 0 ? "c_" + names.get(0).replace('.', '_') : Convention.column(field);
                fields.add(column(field, column, type(), !gentle && random.nextInt(3) == 0));
            }
        }
        String table = random.nextInt(8) == 0 ? "t_" + name.toLowerCase() : Convention.table(name);
        return new Sheet(Sheet.Kind.ENTITY, name, table, fields, key, source, "", List.of(), List.of(), List.of())
                .conventional();
    }

    private ColumnType key(int kind, String name, ColumnType type) {
        ColumnType known = gentle ? known(kind, List.of(name)) : null;
        return known == null ? type : known;
    }

    private ColumnType known(int kind, List<String> names) {
        for (String entity : ENTITIES.get(kind)) {
            for (String name : names) {
                Field field = like.sheet(entity).flatMap(one -> one.field(name)).orElse(null);
                if (field instanceof Field.OfColumn column) {
                    return column.type();
                }
            }
        }
        return null;
    }

    private Field column(String name, String column, ColumnType type, boolean required) {
        boolean key = List.of("id", "code", "number", "place").contains(name);
        String byDefault = null;
        String computed = null;
        if (!key && random.nextInt(5) == 0) {
            byDefault = switch (type.kind()) {
                case INTEGER, LONG, DECIMAL, DOUBLE -> any(List.of("7", "8"));
                case STRING -> any(List.of("'x'", "'it''s'"));
                default -> null;
            };
        } else if (!key && type.kind() == Kind.INTEGER && random.nextInt(6) == 0) {
            computed = any(List.of("2 + 3", "3 * 4"));
        }
        return new Field.OfColumn(name, column, type, required && computed == null, byDefault, computed);
    }

    private ColumnType number() {
        return type(any(List.of(Integer.class, Long.class)));
    }

    private static ColumnType type(Class<?> of) {
        return ColumnType.of(of).orElseThrow();
    }

    private ColumnType type() {
        return switch (random.nextInt(14)) {
            case 0, 1, 2 -> ColumnType.text(20 + 10 * random.nextInt(3));
            case 3 -> type(Integer.class);
            case 4 -> type(Long.class);
            case 5, 6 -> type(BigDecimal.class).withDigits(8 + random.nextInt(4), random.nextInt(4));
            case 7 -> type(LocalDate.class);
            case 8 -> type(LocalDateTime.class);
            case 9 -> any(List.of(type(LocalTime.class), type(Instant.class)));
            case 10 -> type(Boolean.class);
            case 11 -> any(List.of(type(UUID.class), type(byte[].class), type(Double.class)));
            case 12 -> new ColumnType(Kind.ENUM, Enum.class, 5 + random.nextInt(5), 0, 0);
            default -> ColumnType.text(0).asLongText();
        };
    }

    private void links(Sheet entity) {
        List<Field> fields = new ArrayList<>(entity.fields());
        for (List<String> names : LINKS) {
            if (random.nextInt(2) == 0) {
                Sheet target = any(List.copyOf(sheets.values()));
                boolean required = !gentle && random.nextInt(3) == 0;
                fields.add(link(any(names), target, required, any(List.of(DeleteRule.values()))));
            }
        }
        sheets.put(entity.name(), entity.withFields(fields).conventional());
    }

    private Field link(String name, Sheet target, boolean required, DeleteRule rule) {
        return new Field.OfLink(
                name,
                Convention.columns(name, target),
                target.name(),
                required,
                required && rule == DeleteRule.SET_NULL ? DeleteRule.CASCADE : rule,
                random.nextInt(4) == 0,
                "",
                "");
    }

    private void rules(Sheet entity) {
        List<String> fields = entity.fields().stream()
                .filter(RandomLayout::isIndexable)
                .map(Field::name)
                .toList();
        List<Sheet.Unique> uniques = new ArrayList<>();
        List<Sheet.Listed> indexes = new ArrayList<>();
        List<Sheet.Held> checks = new ArrayList<>();
        List<String> key = entity.key().stream().map(Field::name).toList();
        for (int i = random.nextInt(3); i > 0; i--) {
            List<String> some = some(fields);
            if (!gentle && uniques.stream().noneMatch(one -> one.fields().containsAll(some)) && !some.equals(key)) {
                uniques.add(new Sheet.Unique("", some, random.nextInt(4) == 0));
            }
        }
        for (int i = random.nextInt(3); i > 0; i--) {
            List<String> some = some(fields);
            boolean link = some.size() == 1 && entity.field(some.get(0)).orElseThrow() instanceof Field.OfLink;
            if (indexes.stream().noneMatch(one -> one.fields().equals(some))
                    && uniques.stream().noneMatch(one -> one.fields().equals(some))
                    && !some.equals(key)
                    && !link) {
                indexes.add(new Sheet.Listed("", some));
            }
        }
        for (Field field : entity.fields()) {
            boolean drawn = entity.key().contains(field) && entity.keySource() != KeySource.ASSIGNED;
            if (field instanceof Field.OfColumn column
                    && column.computed() == null
                    && !drawn
                    && !gentle
                    && random.nextInt(5) == 0) {
                checks.add(new Sheet.Held("", check(column)));
            }
        }
        Sheet named = entity.withUniques(uniques)
                .withIndexes(indexes)
                .withChecks(checks)
                .conventional();
        sheets.put(named.name(), named);
    }

    private List<String> some(List<String> fields) {
        String first = any(fields);
        String second = any(fields);
        return first.equals(second) || random.nextBoolean() ? List.of(first) : List.of(first, second);
    }

    /** Not every database has an index on long texts. */
    private static boolean isIndexable(Field field) {
        return field instanceof Field.OfLink
                || field instanceof Field.OfColumn column
                        && column.type().kind() != Kind.LONG_TEXT
                        && column.type().kind() != Kind.BYTES
                        && column.computed() == null;
    }

    private SearchCondition check(Field.OfColumn column) {
        Term field = new Term.Attribute(FieldPath.of(column.name()));
        return switch (column.type().kind()) {
            case INTEGER, LONG, DECIMAL ->
                new SearchCondition.Comparison(
                        field, any(List.of(Operator.ABOVE, Operator.AT_LEAST)), new Term.Value((long)
                                random.nextInt(2)));
            case STRING, ENUM ->
                new SearchCondition.Membership(field, List.of(new Term.Value("a"), new Term.Value("it's")));
            case DATE ->
                new SearchCondition.Comparison(
                        field, Operator.ABOVE, new Term.Value("2020-0" + (1 + random.nextInt(2)) + "-01"));
            default -> new SearchCondition.Negation(new SearchCondition.Absence(field));
        };
    }

    private void parts(Sheet owner, String attribute) {
        String link =
                Character.toLowerCase(owner.name().charAt(0)) + owner.name().substring(1);
        List<Field> fields = new ArrayList<>();
        fields.add(new Field.OfColumn("partId", "part_id", ColumnType.number(), true, null, null));
        fields.add(link(link, owner, true, DeleteRule.CASCADE));
        if (random.nextBoolean()) {
            fields.add(new Field.OfColumn("position", "position", ColumnType.number(), true, null, null));
        }
        fields.add(
                new Field.OfColumn("element", "element", ColumnType.text(30 + random.nextInt(2)), false, null, null));
        String name = owner.name() + "." + attribute;
        sheets.put(
                name,
                new Sheet(
                                Sheet.Kind.PARTS,
                                name,
                                Convention.table(name),
                                fields,
                                1,
                                KeySource.GENERATED,
                                "",
                                List.of(),
                                List.of(),
                                List.of())
                        .conventional());
    }

    private void pivot(Sheet owner, String attribute) {
        Sheet target = any(sheets.values().stream()
                .filter(one -> one.kind() == Sheet.Kind.ENTITY)
                .toList());
        String name = owner.name() + "." + attribute;
        Field near = link(decapitalized(owner.name()), owner, true, DeleteRule.CASCADE);
        Field far = link(target == owner ? attribute : decapitalized(target.name()), target, true, DeleteRule.CASCADE);
        List<Field> fields = new ArrayList<>(List.of(near, far));
        if (random.nextBoolean()) {
            fields.add(new Field.OfColumn("position", "position", ColumnType.number(), false, null, null));
        }
        List<Sheet.Unique> uniques = new ArrayList<>();
        if (random.nextInt(3) == 0) {
            uniques.add(new Sheet.Unique("", List.of(far.name()), false));
        }
        sheets.put(
                name,
                new Sheet(
                                Sheet.Kind.PIVOT,
                                name,
                                Convention.table(name),
                                fields,
                                2,
                                KeySource.ASSIGNED,
                                "",
                                uniques,
                                List.of(),
                                List.of())
                        .conventional());
    }

    private static String decapitalized(String name) {
        return Character.toLowerCase(name.charAt(0)) + name.substring(1);
    }
}
