package io.bathra.model;

import io.bathra.access.Accessor;
import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.EntityMaking;
import io.bathra.mapping.FieldAccess;
import io.bathra.mapping.Gate;
import io.bathra.mapping.InlineCodec;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.Rules;
import io.bathra.mapping.Shape;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.Traits;
import io.bathra.model.ColumnAssembly.Declared;
import io.bathra.model.Entity.AttributeLine;
import io.bathra.model.Entity.ColumnLine;
import io.bathra.model.Entity.ConvertedLine;
import io.bathra.model.Entity.InlineLine;
import io.bathra.model.Entity.InverseLine;
import io.bathra.model.Entity.KeyLine;
import io.bathra.model.Entity.PartsLine;
import io.bathra.model.Entity.UniqueLine;
import io.bathra.question.SortKey;
import java.util.ArrayList;
import java.util.HashMap;
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
    private final DeclaredFields fields;
    private List<PersistentField> keyFields = List.of();
    private List<KeyOption> keyOptions = List.of();

    EntityAssembly(Entity<E> declaration, ModelEntity<E> entity, TableScope scope) {
        this.declaration = declaration;
        this.entity = entity;
        this.scope = scope;
        this.fields = new DeclaredFields(declaration, scope);
    }

    DeclaredFields fields() {
        return fields;
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
        fields.collect();
        if (!findKey()) {
            return;
        }
        List<PersistentField> ordered = new ArrayList<>(keyFields);
        fields.all().stream().filter(field -> !keyFields.contains(field)).forEach(ordered::add);
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
        EntityMaking.complete(entity, keySource(), keyFields.size(), attributes, rules);
    }

    /** Whether a field has columns in the entity's own table. */
    private boolean isStored(PersistentField field) {
        AttributeLine line = fields.line(field);
        return !field.isLinks() && !(line instanceof PartsLine) && !(line instanceof InverseLine);
    }

    private @Nullable StoredAttribute stored(PersistentField field, FieldAccess access, int slot) {
        ColumnAssembly columns = new ColumnAssembly(scope, entity);
        if (field.isLink()) {
            return link(field, access, slot);
        }
        AttributeLine line = fields.line(field);
        List<?> options = columnOptions(field);
        boolean column = line instanceof ConvertedLine || has(options, Options.Json.class) || isKey(field);
        if (line instanceof InlineLine || (!column && field.type().isRecord())) {
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
        List<?> options = fields.options(field.name());
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
        List<Gate> gates =
                inline.parts().stream().map(ColumnAttribute.Part::gate).toList();
        return new ColumnAttribute(
                entity,
                field.name(),
                access,
                slot,
                inline.parts(),
                required,
                new Shape.Several(gates, required),
                Traits.inline(codec, inline.isSecret()));
    }

    /** An attribute whose rows lie in another table. */
    private Attribute elsewhere(PersistentField field, FieldAccess access, int slot) {
        AttributeLine line = fields.line(field);
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
        if (line instanceof InverseLine) {
            return new InverseAttribute(entity, field.name(), access, slot);
        }
        List<?> options = fields.options(field.name());
        boolean cascades = !has(options, Options.NoCascade.class);
        if (fields.isPivot(field)) {
            return new PivotAttribute(entity, field.name(), access, slot, cascades);
        }
        List<SortKey> orderings = new ArrayList<>();
        for (Object option : options) {
            if (option instanceof Options.OrderedBy<?> ordered) {
                orderings.addAll(ordered.orderings());
            }
        }
        return new LinksAttribute(
                entity, field.name(), access, slot, cascades, has(options, Options.RemoveOrphans.class), orderings);
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
            found.add(fields.named("id"));
        } else {
            keyOptions = declared.get(0).options();
            for (Accessor accessor : declared.get(0).accessors()) {
                PersistentField field = fields.field(accessor);
                if (field == null) {
                    fields.notAField(accessor);
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
        List<?> options = fields.options(field.name());
        boolean required = keyFields.contains(field) || has(options, Options.Required.class);
        DeleteRule rule = Options.deleteRule(options).orElse(DeleteRule.RESTRICT);
        Enforcer enforcer = Options.enforcer(options);
        if (rule == DeleteRule.SET_NULL && required) {
            fault(
                    field.name(),
                    "is required, so onDelete(SET_NULL) cannot empty it; take CASCADE or RESTRICT, or make it"
                            + " optional");
        }
        if (rule == DeleteRule.RESTRICT && enforcer == Enforcer.UNIT) {
            fault(
                    field.name(),
                    "is enforcedBy(UNIT), but nothing is to be done: say onDelete(CASCADE) or"
                            + " onDelete(SET_NULL) as well");
        }
        return new LinkAttribute(
                entity,
                field.name(),
                access,
                slot,
                Options.name(options),
                scope.naming(),
                required,
                new LinkAttribute.Ends(
                        rule,
                        enforcer,
                        !has(options, Options.NoCascade.class),
                        has(options, Options.Unique.class),
                        has(options, Options.Deferrable.class)));
    }

    static boolean has(List<?> options, Class<?> kind) {
        return options.stream().anyMatch(kind::isInstance);
    }

    boolean isKey(PersistentField field) {
        return keyFields.contains(field);
    }

    /** The options that are declared of a column; those of the key too, where it is the whole of it. */
    List<?> columnOptions(PersistentField field) {
        List<Object> options = new ArrayList<>(fields.options(field.name()));
        if (keyFields.size() == 1 && isKey(field)) {
            options.addAll(keyOptions);
        }
        return options;
    }

    /** Whether an option says that no two rows may have the same value of this attribute. */
    boolean isDeclaredUnique(String attribute) {
        return has(fields.options(attribute), Options.Unique.class);
    }

    /** Whether a field is unique, by itself or together with others. */
    boolean isUnique(PersistentField field) {
        return isDeclaredUnique(field.name())
                || declaration.lines().stream()
                        .anyMatch(line -> line instanceof UniqueLine unique
                                && unique.accessors().stream().anyMatch(accessor -> fields.field(accessor) == field));
    }

    String name() {
        return entity.name();
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
            entity.inverses().forEach(link -> link.holder(object));
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
