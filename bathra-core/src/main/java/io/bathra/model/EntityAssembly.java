package io.bathra.model;

import io.bathra.attr.Accessor;
import io.bathra.model.Entity.AttributeLine;
import io.bathra.model.Entity.ColumnLine;
import io.bathra.model.Entity.ConvertedLine;
import io.bathra.model.Entity.KeyLine;
import io.bathra.model.Entity.Line;
import io.bathra.model.Entity.LinkLine;
import io.bathra.model.Entity.LinksLine;
import io.bathra.model.Entity.UniqueLine;
import java.lang.invoke.MethodHandles.Lookup;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/** Makes one entity of a model from its declaration and its fields, and reports what does not fit. */
final class EntityAssembly<E> {
    private final Entity<E> declaration;
    private final ModelEntity<E> entity;
    private final @Nullable Lookup lookup;
    private final Naming naming;
    private final List<String> faults;
    private final Map<String, PersistentField> fields = new LinkedHashMap<>();
    private final Map<String, AttributeLine> lines = new LinkedHashMap<>();
    private List<PersistentField> keyFields = List.of();
    private List<KeyOption> keyOptions = List.of();
    private final Map<String, String> columns = new HashMap<>();

    EntityAssembly(
            Entity<E> declaration, ModelEntity<E> entity, @Nullable Lookup lookup, Naming naming, List<String> faults) {
        this.declaration = declaration;
        this.entity = entity;
        this.lookup = lookup;
        this.naming = naming;
        this.faults = faults;
    }

    void buildAttributes() {
        if (declaration.type().isRecord()
                || declaration.type().isInterface()
                || declaration.type().isEnum()) {
            fault("is not a class with fields that can be written; an entity is a plain class");
            return;
        }
        collectFields();
        collectLines();
        if (!findKey()) {
            return;
        }
        List<PersistentField> ordered = new ArrayList<>(keyFields);
        fields.values().stream().filter(field -> !keyFields.contains(field)).forEach(ordered::add);
        ColumnAssembly columnAssembly = new ColumnAssembly(this, entity, lookup);
        List<Attribute> attributes = new ArrayList<>();
        for (PersistentField field : ordered) {
            FieldAccess access = field.isLinks() ? null : open(field);
            StoredAttribute attribute = access == null
                    ? null
                    : field.isLink()
                            ? link(field, access, attributes.size())
                            : columnAssembly.column(field, access, attributes.size());
            if (attribute != null) {
                attributes.add(attribute);
            }
        }
        if (attributes.size() < keyFields.size()
                || !attributes
                        .get(keyFields.size() - 1)
                        .name()
                        .equals(keyFields.get(keyFields.size() - 1).name())) {
            return; // the fault of the key is reported already
        }
        Map<String, StoredAttribute> byName = new HashMap<>();
        attributes.forEach(attribute -> byName.put(attribute.name(), (StoredAttribute) attribute));
        Rules rules = new RulesAssembly(this, declaration.lines(), byName).rules();
        for (PersistentField field : ordered) {
            FieldAccess access = field.isLinks() ? open(field) : null;
            if (access != null) {
                attributes.add(new LinksAttribute(entity, field.name(), access, attributes.size()));
            }
        }
        entity.complete(keySource(), keyFields.size(), attributes, rules);
    }

    private void collectFields() {
        for (PersistentField field : PersistentField.of(declaration.type())) {
            if (fields.putIfAbsent(field.name(), field) != null) {
                fault(
                        field.name(),
                        "is a field of the class and of a superclass too; rename one, or make it transient");
            }
            if (field.isHolder() && !field.isFinal()) {
                fault(
                        field.name(),
                        "holds an association, so it must be final: `private final "
                                + field.type().getSimpleName() + "<...> " + field.name() + " = "
                                + field.type().getSimpleName() + ".empty();`");
            } else if (!field.isHolder() && field.isFinal()) {
                fault(
                        field.name(),
                        "is final, but is written when a row is read; remove `final`, or make it transient");
            }
        }
    }

    private void collectLines() {
        for (Line any : declaration.lines()) {
            if (!(any instanceof AttributeLine line)) {
                continue;
            }
            PersistentField field = field(line.accessor());
            if (field == null) {
                notAField(line.accessor());
                continue;
            }
            if (lines.putIfAbsent(field.name(), line) != null) {
                fault(field.name(), "is declared twice; put all its options into one call");
            }
            if (field.isHolder() && (line instanceof ColumnLine || line instanceof ConvertedLine)) {
                String word = field.isLink() ? ".link(...)" : ".links(..., other end)";
                fault(field.name(), "holds an association, so declare it with " + word);
            }
        }
        for (PersistentField field : fields.values()) {
            if (field.isLinks() && !(lines.get(field.name()) instanceof LinksLine)) {
                fault(
                        field.name(),
                        "needs its other end; declare .links(" + entity.name() + "::" + field.name() + ", "
                                + (field.element() == null
                                        ? "Other"
                                        : field.element().getSimpleName())
                                + "::...)");
            }
        }
    }

    void notAField(Accessor accessor) {
        fault(
                accessor.method() + "()",
                "is no accessor of a persistent field; name the field '" + accessor.beanProperty()
                        + "' like it, or declare the accessor of a field: " + fields.keySet());
    }

    @Nullable
    PersistentField field(Accessor accessor) {
        PersistentField exact = fields.get(accessor.property());
        return exact != null ? exact : fields.get(accessor.beanProperty());
    }

    /** Finds the fields of the key; false, with a fault, when there are none that can be it. */
    private boolean findKey() {
        List<KeyLine> declared = declaration.lines().stream()
                .filter(KeyLine.class::isInstance)
                .map(KeyLine.class::cast)
                .toList();
        if (declared.size() > 1) {
            fault("has several keys: "
                    + declared.stream().map(KeyLine::accessors).toList()
                    + "; declare one, with all its attributes in one call");
            return false;
        }
        List<PersistentField> found = new ArrayList<>();
        if (declared.isEmpty()) {
            found.add(fields.get("id"));
        } else {
            keyOptions = declared.get(0).options();
            for (Accessor accessor : declared.get(0).accessors()) {
                PersistentField field = field(accessor);
                if (field == null) {
                    notAField(accessor);
                    return false;
                }
                found.add(field);
            }
        }
        if (found.contains(null) || found.get(0).isLinks()) {
            fault("has no key; declare one with .key(" + entity.name() + "::...), or add a field `Long id`");
            return false;
        }
        if (found.stream().distinct().count() < found.size()) {
            fault(found.get(0).name(), "stands in the key twice; name each attribute once");
            return false;
        }
        keyFields = found;
        return true;
    }

    private @Nullable FieldAccess open(PersistentField field) {
        try {
            return FieldAccess.to(field.field(), lookup);
        } catch (IllegalAccessException e) {
            fault(field.name(), "cannot be reached: " + e.getMessage());
            return null;
        }
    }

    private KeySource keySource() {
        PersistentField field = keyFields.get(0);
        Optional<ColumnType> type = ColumnType.of(field.type());
        boolean drawable = keyFields.size() == 1
                && type.isPresent()
                && (type.get().kind() == ColumnType.Kind.LONG || type.get().kind() == ColumnType.Kind.INTEGER);
        for (KeyOption option : keyOptions) {
            if (option instanceof Options.Source declared) {
                boolean uuid = keyFields.size() == 1 && field.type() == UUID.class;
                if (declared.source() == KeySource.TIME_ORDERED
                        ? !uuid
                        : declared.source().isDrawn() && !drawable) {
                    fault(
                            field.name(),
                            "is a " + field.type().getSimpleName() + ", which "
                                    + (declared.source() == KeySource.TIME_ORDERED
                                            ? "holds no UUID; make it one, or draw numbers with generated()"
                                            : "the database cannot draw; make it a Long, or declare it assigned()"));
                }
                return declared.source();
            }
        }
        return drawable ? KeySource.GENERATED : KeySource.ASSIGNED;
    }

    private LinkAttribute link(PersistentField field, FieldAccess access, int slot) {
        List<LinkOption> options = lines.get(field.name()) instanceof LinkLine line ? line.options() : List.of();
        return new LinkAttribute(
                entity,
                field.name(),
                access,
                slot,
                options.stream()
                        .filter(Options.Name.class::isInstance)
                        .map(option -> ((Options.Name) option).column())
                        .findFirst()
                        .orElse(null),
                naming,
                keyFields.contains(field) || has(options, Options.Required.class));
    }

    static boolean has(List<?> options, Class<?> kind) {
        return options.stream().anyMatch(kind::isInstance);
    }

    String columnName(String field, List<?> options) {
        return options.stream()
                .filter(Options.Name.class::isInstance)
                .map(option -> ((Options.Name) option).column())
                .findFirst()
                .orElseGet(() -> naming.inSql(field));
    }

    void claimColumn(String column, String attribute) {
        if (ModelAssembly.isTooLong(column)) {
            fault(
                    attribute,
                    "has the column '" + column + "', which is longer than " + ModelAssembly.LONGEST_NAME
                            + " bytes, and not every database takes that; give it a shorter one with name(...)");
        }
        String other = columns.putIfAbsent(column.toLowerCase(Locale.ROOT), attribute);
        if (other != null) {
            fault(
                    attribute,
                    "has the column '" + column + "', which '" + other
                            + "' has too; give one of them another with name(...)");
        }
    }

    boolean isKey(PersistentField field) {
        return keyFields.contains(field);
    }

    /** The options that are declared of a column; those of the key too, where it is the whole of it. */
    List<?> columnOptions(PersistentField field) {
        List<Object> options = new ArrayList<>(options(field.name()));
        if (keyFields.size() == 1 && isKey(field)) {
            options.addAll(keyOptions);
        }
        return options;
    }

    private List<?> options(String attribute) {
        AttributeLine line = lines.get(attribute);
        if (line instanceof ColumnLine column) {
            return column.options();
        }
        if (line instanceof ConvertedLine converted) {
            return converted.options();
        }
        return line instanceof LinkLine link ? link.options() : List.of();
    }

    /** Whether an option says that no two rows may have the same value of this attribute. */
    boolean isDeclaredUnique(String attribute) {
        return has(options(attribute), Options.Unique.class);
    }

    /** Whether a field is unique, by itself or together with others. */
    boolean isUnique(PersistentField field) {
        return isDeclaredUnique(field.name())
                || declaration.lines().stream()
                        .anyMatch(line -> line instanceof UniqueLine unique
                                && unique.accessors().stream().anyMatch(accessor -> field(accessor) == field));
    }

    String name() {
        return entity.name();
    }

    /** The class at the other end of an association; null when it cannot be told. */
    @Nullable
    Class<?> element(String attribute) {
        return fields.get(attribute).element();
    }

    /** What is declared of an attribute. */
    @Nullable
    AttributeLine line(String attribute) {
        return lines.get(attribute);
    }

    AssociationAssembly associations() {
        return new AssociationAssembly(this, entity);
    }

    /** The links that are part of the key. */
    List<LinkAttribute> keyLinks() {
        return entity.links().stream().filter(StoredAttribute::isKey).toList();
    }

    /** An object is made once, so that a constructor that fails or leaves a holder null is found now. */
    void tryConstructor() {
        try {
            E object = entity.instantiate();
            if (object.getClass() != entity.type()) {
                fault("its constructor makes a " + object.getClass().getName() + "; give the one of this very class");
                return;
            }
            entity.links().forEach(link -> link.holder(object));
            entity.toManys().forEach(many -> many.holder(object));
        } catch (RuntimeException e) {
            fault("its constructor cannot make an empty object (" + e + "); give one that needs nothing");
        }
    }

    void fault(String attribute, String text) {
        faults.add(entity.name() + "." + attribute + ": " + text);
    }

    void fault(String text) {
        faults.add(entity.name() + ": " + text);
    }
}
