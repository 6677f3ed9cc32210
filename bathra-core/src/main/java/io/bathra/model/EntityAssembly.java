package io.bathra.model;

import io.bathra.attr.Accessor;
import io.bathra.model.ColumnAssembly.Declared;
import io.bathra.model.Entity.AttributeLine;
import io.bathra.model.Entity.BackLinkLine;
import io.bathra.model.Entity.ColumnLine;
import io.bathra.model.Entity.ConvertedLine;
import io.bathra.model.Entity.InlineLine;
import io.bathra.model.Entity.KeyLine;
import io.bathra.model.Entity.Line;
import io.bathra.model.Entity.LinkLine;
import io.bathra.model.Entity.LinksLine;
import io.bathra.model.Entity.PartsLine;
import io.bathra.model.Entity.PivotLine;
import io.bathra.model.Entity.UniqueLine;
import io.bathra.query.Ordering;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/** Makes one entity of a model from its declaration and its fields, and reports what does not fit. */
final class EntityAssembly<E> {
    private final Entity<E> declaration;
    private final ModelEntity<E> entity;
    private final TableScope scope;
    private final Map<String, PersistentField> fields = new LinkedHashMap<>();
    private final Map<String, AttributeLine> lines = new LinkedHashMap<>();
    private List<PersistentField> keyFields = List.of();
    private List<KeyOption> keyOptions = List.of();
    private final Set<String> pivotsFromOtherSides = new HashSet<>();

    EntityAssembly(Entity<E> declaration, ModelEntity<E> entity, TableScope scope) {
        this.declaration = declaration;
        this.entity = entity;
        this.scope = scope;
    }

    Class<E> type() {
        return entity.type();
    }

    TableScope scope() {
        return scope;
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
        List<Attribute> attributes = new ArrayList<>();
        for (PersistentField field : ordered) {
            FieldAccess access = isStored(field) ? scope.open(field) : null;
            StoredAttribute attribute = access == null ? null : stored(field, access, attributes.size());
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
            FieldAccess access = isStored(field) ? null : scope.open(field);
            if (access != null) {
                attributes.add(elsewhere(field, access, attributes.size()));
            }
        }
        entity.complete(keySource(), keyFields.size(), attributes, rules);
    }

    /** Whether a field has columns in the entity's own table. */
    private boolean isStored(PersistentField field) {
        AttributeLine line = lines.get(field.name());
        return !field.isLinks() && !(line instanceof PartsLine) && !(line instanceof BackLinkLine);
    }

    private @Nullable StoredAttribute stored(PersistentField field, FieldAccess access, int slot) {
        ColumnAssembly columns = new ColumnAssembly(scope, entity);
        if (field.isLink()) {
            return link(field, access, slot);
        }
        AttributeLine line = lines.get(field.name());
        List<?> options = columnOptions(field);
        boolean column = line instanceof ConvertedLine || has(options, Options.Json.class) || isKey(field);
        if (line instanceof InlineLine || !column && field.type().isRecord()) {
            if (line instanceof ColumnLine) {
                fault(field.name(), "is inlined, so declare it with .inline(...)");
            }
            return inline(field, access, slot, columns);
        }
        return columns.column(
                field,
                access,
                slot,
                new Declared(
                        field.name(),
                        field.isLater() && field.element() != null ? field.element() : field.type(),
                        field.isLater() ? field.argument() : field.field().getGenericType(),
                        line instanceof ConvertedLine converted ? converted.converter() : null,
                        options,
                        isKey(field),
                        isUnique(field)));
    }

    private @Nullable ColumnAttribute inline(
            PersistentField field, FieldAccess access, int slot, ColumnAssembly columns) {
        List<?> options = options(field.name());
        boolean required = has(options, Options.Required.class);
        String prefix = options.stream()
                .filter(Options.Prefix.class::isInstance)
                .map(option -> ((Options.Prefix) option).prefix())
                .findFirst()
                .orElse(field.name() + "_");
        InlineAssembly inline = new InlineAssembly(scope, columns, field.name(), options, false);
        InlineCodec codec = inline.codec(field.type(), prefix, required);
        if (codec == null) {
            return null;
        }
        List<ColumnType> types =
                inline.parts().stream().map(ColumnAttribute.Part::type).toList();
        return new ColumnAttribute(
                entity,
                field.name(),
                access,
                slot,
                inline.parts(),
                required,
                new Shape.Several(types, required),
                Traits.inline(codec, inline.isSecret()));
    }

    /** An attribute whose rows lie in another table. */
    private Attribute elsewhere(PersistentField field, FieldAccess access, int slot) {
        AttributeLine line = lines.get(field.name());
        if (line instanceof PartsLine) {
            return new PartsAttribute(
                    entity,
                    field.name(),
                    access,
                    field.type() == Map.class
                            ? PartsAttribute.Kind.MAP
                            : field.type() == Set.class ? PartsAttribute.Kind.SET : PartsAttribute.Kind.LIST,
                    field.isFinal());
        }
        if (line instanceof BackLinkLine) {
            return new BackLinkAttribute(entity, field.name(), access, slot);
        }
        List<?> options = options(field.name());
        boolean cascades = !has(options, Options.NoCascade.class);
        if (isPivot(field)) {
            return new PivotAttribute(entity, field.name(), access, slot, cascades);
        }
        List<Ordering<?>> orderings = new ArrayList<>();
        for (Object option : options) {
            if (option instanceof Options.OrderedBy<?> ordered) {
                orderings.addAll(ordered.orderings());
            }
        }
        return new LinksAttribute(entity, field.name(), access, slot, cascades, orderings);
    }

    /** Whether the other side of a pivot names this field, or the field itself is declared as one. */
    private boolean isPivot(PersistentField field) {
        return lines.get(field.name()) instanceof PivotLine || pivotsFromOtherSides.contains(field.name());
    }

    /** Takes note that another entity has declared a pivot with this attribute as its other side. */
    void otherSideOfPivot(Accessor accessor) {
        pivotsFromOtherSides.add(accessor.property());
        pivotsFromOtherSides.add(accessor.beanProperty());
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
                        "holds " + (field.isLater() ? "a value for later" : "an association")
                                + ", so it must be final: `private final "
                                + field.type().getSimpleName() + "<...> " + field.name() + " = "
                                + field.type().getSimpleName() + ".empty();`");
            } else if (!field.isHolder() && field.isFinal() && !field.isCollection()) {
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
            if (line instanceof PartsLine && !field.isCollection()) {
                fault(
                        field.name(),
                        "is a " + field.type().getSimpleName() + ", so it holds no parts; make it a List, Set or Map");
                lines.remove(field.name());
            }
            if (field.isAssociation() && (line instanceof ColumnLine || line instanceof ConvertedLine)) {
                String word = field.isLink() ? ".link(...)" : ".links(..., other end)";
                fault(field.name(), "holds an association, so declare it with " + word);
            }
        }
        for (PersistentField field : fields.values()) {
            if (field.isCollection() && field.isFinal() && !(lines.get(field.name()) instanceof PartsLine)) {
                fault(
                        field.name(),
                        "is final, but is written when a row is read; declare it with .parts(...), remove"
                                + " `final`, or make it transient");
            }
            if (field.isLinks() && !(lines.get(field.name()) instanceof LinksLine) && !isPivot(field)) {
                fault(
                        field.name(),
                        "needs its other end, or a pivot; declare .links(" + entity.name() + "::" + field.name() + ", "
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
                scope.naming(),
                keyFields.contains(field) || has(options, Options.Required.class),
                new LinkAttribute.Ends(
                        DeleteRule.RESTRICT,
                        !has(options, Options.NoCascade.class),
                        has(options, Options.Unique.class)));
    }

    static boolean has(List<?> options, Class<?> kind) {
        return options.stream().anyMatch(kind::isInstance);
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

    List<?> options(String attribute) {
        AttributeLine line = lines.get(attribute);
        if (line instanceof ColumnLine column) {
            return column.options();
        }
        if (line instanceof ConvertedLine converted) {
            return converted.options();
        }
        if (line instanceof LinkLine link) {
            return link.options();
        }
        if (line instanceof InlineLine inline) {
            return inline.options();
        }
        if (line instanceof LinksLine links) {
            return links.options();
        }
        if (line instanceof PartsLine parts) {
            return parts.options();
        }
        return line instanceof PivotLine pivot ? pivot.options() : List.of();
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

    /** The field of an attribute. */
    PersistentField fieldOf(String attribute) {
        return fields.get(attribute);
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
            entity.pivots().forEach(pivot -> pivot.holder(object));
            entity.backLinks().forEach(link -> link.holder(object));
            entity.laters().forEach(later -> later.later(object));
            entity.parts().forEach(parts -> parts.tryCollection(object));
        } catch (RuntimeException e) {
            fault("its constructor cannot make an empty object (" + e + "); give one that needs nothing");
        }
    }

    void fault(String attribute, String text) {
        scope.fault(attribute, text);
    }

    void fault(String text) {
        scope.fault(text);
    }
}
