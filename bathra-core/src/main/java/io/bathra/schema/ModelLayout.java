package io.bathra.schema;

import io.bathra.attr.Naming;
import io.bathra.mapping.CheckRule;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.IndexRule;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.UniqueKey;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

/** The layout that a model asks for. */
final class ModelLayout {
    /** The key of a pivot's rows, where they have one of their own. */
    private static final String PIVOT_KEY = "id";

    private final Map<ModelEntity<?>, String> names = new HashMap<>();

    private ModelLayout(Mapping model) {
        Set<String> taken = new HashSet<>();
        for (ModelEntity<?> entity : model.entities()) {
            boolean own = entity.table().equals(Naming.SNAKE_CASE.inSql(entity.name()));
            if (own) {
                names.put(entity, entity.name());
                taken.add(entity.name());
            }
        }
        for (ModelEntity<?> entity : model.entities()) {
            if (!names.containsKey(entity)) {
                names.put(entity, taken.add(entity.name()) ? entity.name() : byTable(entity.table()));
            }
        }
    }

    static Layout of(Mapping model) {
        ModelLayout layout = new ModelLayout(model);
        List<Sheet> sheets = new ArrayList<>();
        for (ModelEntity<?> entity : model.tables()) {
            if (!entity.isView()) {
                sheets.add(layout.sheet(entity));
            }
        }
        return Layout.of(sheets, model.commitTokens());
    }

    /** Two classes may have the same simple name; the one whose table has another is called after its table. */
    private static String byTable(String table) {
        StringBuilder name = new StringBuilder();
        for (String word : table.split("[^\\p{L}\\p{N}]+")) {
            name.append(word.substring(0, 1).toUpperCase(Locale.ROOT)).append(word.substring(1));
        }
        return name.toString();
    }

    /** Parts and pivots are called after their entity and attribute. */
    private String name(ModelEntity<?> entity) {
        return switch (entity.kind()) {
            case PARTS -> named(entity.links().get(0).target(), entity.name());
            case PIVOT -> named(Objects.requireNonNull(entity.pivot()).near().target(), entity.name());
            default -> Objects.requireNonNull(names.get(entity));
        };
    }

    private String named(ModelEntity<?> owner, String name) {
        return names.get(owner) + name.substring(name.lastIndexOf('.'));
    }

    private Sheet sheet(ModelEntity<?> entity) {
        boolean ownKey = entity.pivot() != null && entity.pivot().ownKey();
        List<Field> fields = new ArrayList<>();
        for (StoredAttribute attribute : entity.stored()) {
            fields.addAll(fields(attribute));
        }
        int keyFields = fieldNames(entity.keyAttributes()).size();
        List<Sheet.Unique> uniques = new ArrayList<>();
        if (ownKey) {
            List<String> pair = fieldNames(entity.keyAttributes());
            fields.add(0, new Field.OfColumn(PIVOT_KEY, PIVOT_KEY, ColumnType.number(), true, null, null));
            keyFields = 1;
            uniques.add(new Sheet.Unique("", pair, false));
        }
        for (UniqueKey unique : entity.uniqueKeys()) {
            if (!unique.primary()) {
                uniques.add(new Sheet.Unique(
                        Objects.requireNonNullElse(unique.name(), ""),
                        fieldNames(unique.attributes()),
                        unique.isDeferrable()));
            }
        }
        List<Sheet.Listed> indexes = new ArrayList<>();
        for (IndexRule index : entity.indexes()) {
            indexes.add(new Sheet.Listed(Objects.requireNonNullElse(index.name(), ""), fieldNames(index.attributes())));
        }
        List<Sheet.Held> checks = new ArrayList<>();
        for (CheckRule check : entity.checks()) {
            checks.add(new Sheet.Held(
                    Objects.requireNonNullElse(check.name(), ""), new ModelCheck(entity).of(check.condition())));
        }
        Sheet declared = new Sheet(
                kind(entity),
                name(entity),
                entity.table(),
                fields,
                keyFields,
                ownKey ? KeySource.GENERATED : entity.keySource(),
                "",
                uniques,
                indexes,
                checks);
        return named(declared);
    }

    /** The same with the names that convention gives to constraints for which none was given. */
    private static Sheet named(Sheet declared) {
        Sheet convention = declared.conventional();
        List<Sheet.Unique> uniques = new ArrayList<>();
        for (int i = 0; i < declared.uniques().size(); i++) {
            Sheet.Unique one = declared.uniques().get(i);
            uniques.add(one.name().isEmpty() ? convention.uniques().get(i) : one);
        }
        List<Sheet.Listed> indexes = new ArrayList<>();
        for (int i = 0; i < declared.indexes().size(); i++) {
            Sheet.Listed one = declared.indexes().get(i);
            indexes.add(one.name().isEmpty() ? convention.indexes().get(i) : one);
        }
        return convention.withUniques(uniques).withIndexes(indexes).withChecks(checks(declared));
    }

    /** Checks are told apart by a number where several speak of the same columns. */
    private static List<Sheet.Held> checks(Sheet declared) {
        Set<String> taken = new LinkedHashSet<>();
        List<Sheet.Held> checks = new ArrayList<>();
        for (Sheet.Held one : declared.checks()) {
            String name = one.name();
            List<String> columns = declared.columns(Sheet.fieldsOf(one.condition()));
            for (int i = 1; one.name().isEmpty() && (i == 1 || taken.contains(name)); i++) {
                name = ConstraintNames.of(declared.table(), columns, i == 1 ? "check" : "check" + i);
            }
            taken.add(name);
            checks.add(new Sheet.Held(name, one.condition()));
        }
        return checks;
    }

    private static Sheet.Kind kind(ModelEntity<?> entity) {
        return switch (entity.kind()) {
            case PARTS -> Sheet.Kind.PARTS;
            case PIVOT -> Sheet.Kind.PIVOT;
            default -> Sheet.Kind.ENTITY;
        };
    }

    private List<Field> fields(StoredAttribute attribute) {
        if (attribute instanceof LinkAttribute link && !link.target().isView()) {
            List<String> columns =
                    link.columns().stream().map(StoredColumn::name).toList();
            return List.of(new Field.OfLink(
                    link.name(),
                    columns,
                    Objects.requireNonNull(names.get(link.target())),
                    link.required(),
                    link.ruleInDatabase(),
                    link.isDeferrable(),
                    "",
                    ""));
        }
        List<Field> fields = new ArrayList<>();
        for (StoredColumn column : attribute.columns()) {
            DatabaseMade made = attribute.databaseMade();
            fields.add(new Field.OfColumn(
                    name(attribute, column),
                    column.name(),
                    column.type().plain(),
                    column.required(),
                    made instanceof DatabaseMade.Default one ? one.sql() : null,
                    made instanceof DatabaseMade.Computed one ? one.sql() : null));
        }
        return fields;
    }

    /** A key of several columns that a link to a view has is told by its columns, since nothing can refer to a view. */
    private static String name(StoredAttribute attribute, StoredColumn column) {
        return attribute instanceof ColumnAttribute || attribute.columns().size() == 1
                ? column.label()
                : attribute.name() + "." + column.name();
    }

    private List<String> fieldNames(List<? extends StoredAttribute> attributes) {
        return attributes.stream()
                .flatMap(attribute -> fields(attribute).stream())
                .map(Field::name)
                .toList();
    }
}
