package io.bathra.model;

import io.bathra.attr.Converter;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.FieldAccess;
import io.bathra.mapping.FieldHandles;
import io.bathra.mapping.Gate;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.Traits;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Makes the columns of one table: types by convention, options, converters, keys as records. */
final class ColumnAssembly {
    private static final Set<ColumnType.Kind> KEY_KINDS = Set.of(
            ColumnType.Kind.SHORT,
            ColumnType.Kind.INTEGER,
            ColumnType.Kind.LONG,
            ColumnType.Kind.STRING,
            ColumnType.Kind.ENUM,
            ColumnType.Kind.DATE,
            ColumnType.Kind.UUID);

    /** The length of a unique text for which none is declared. */
    private static final int INDEXED_LENGTH = 255;

    private final TableScope scope;
    private final ModelEntity<?> entity;

    ColumnAssembly(TableScope scope, ModelEntity<?> entity) {
        this.scope = scope;
        this.entity = entity;
    }

    /**
     * What is declared of one column.
     *
     * @param place the attribute, or the attribute and the way into it, as faults name it
     * @param javaType the class of its values
     * @param genericType the same with its type arguments
     * @param given a converter that was given; null for none
     * @param options all options that were given
     * @param key whether it is the key
     * @param unique whether its values have to differ
     */
    record Declared(
            String place,
            Class<?> javaType,
            Type genericType,
            @Nullable Converter<?, ?> given,
            List<?> options,
            boolean key,
            boolean unique) {
        static Declared of(
                String place, PersistentField field, @Nullable Converter<?, ?> given, List<?> options, boolean unique) {
            return new Declared(place, field.type(), field.field().getGenericType(), given, options, false, unique);
        }

        boolean has(Class<?> option) {
            return EntityAssembly.has(options, option);
        }
    }

    /** What becomes of it. */
    record Typed(ColumnType type, @Nullable Converter<?, ?> converter) {
        /** Where its values pass. */
        Gate gate(String place, List<?> options) {
            Gate gate = Gate.of(place, type, converter, EntityAssembly.has(options, Options.Secret.class));
            return EntityAssembly.has(options, Options.Json.class) ? gate.ofJson() : gate;
        }
    }

    /** The attribute of a field that is a column by itself; null, with a fault, when it cannot be one. */
    @Nullable
    ColumnAttribute column(PersistentField field, FieldAccess access, int slot, Declared declared) {
        if (declared.key() && field.type().isRecord()) {
            return recordKey(field, access, slot);
        }
        Typed typed = typed(declared);
        if (typed == null) {
            return null;
        }
        if (declared.key() && declared.has(Options.Secret.class)) {
            scope.fault(declared.place(), "is a key and cannot be secret, since messages name rows by their keys");
        }
        if (field.isLater() && (declared.key() || declared.unique())) {
            scope.fault(declared.place(), "is read later, so it cannot be unique or a key");
        }
        String name = scope.columnName(field.name(), declared.options());
        scope.claimColumn(name, field.name());
        boolean required = declared.key() || field.type().isPrimitive() || declared.has(Options.Required.class);
        Traits traits = new Traits(
                field.type().isPrimitive(),
                null,
                databaseMade(declared.options()),
                declared.has(Options.Secret.class),
                declared.has(Options.Deferrable.class),
                field.isLater() ? access : null);
        return ColumnAttribute.single(
                entity,
                field.name(),
                field.isLater() ? FieldAccess.inside(access) : access,
                slot,
                new ColumnAttribute.Part("", name, typed.gate(place(declared.place()), declared.options()), required),
                traits);
    }

    /** What messages about values call an attribute, or the way into one. */
    String place(String attribute) {
        return entity.name() + "." + attribute;
    }

    /** The type of a column; null, with a fault, when there is none. */
    @Nullable
    Typed typed(Declared declared) {
        Converter<?, ?> converter = declared.given() != null ? declared.given() : json(declared);
        Optional<ColumnType> found = ColumnType.of(converter == null ? declared.javaType() : converter.stored());
        if (declared.key()
                && (found.isEmpty() || !KEY_KINDS.contains(found.get().kind()))) {
            scope.fault(
                    declared.place(),
                    "cannot be a key, since it is a " + declared.javaType().getSimpleName()
                            + "; take a whole number, a String, an enum, a LocalDate, a UUID, or a record of these");
            return null;
        }
        if (found.isEmpty()) {
            scope.fault(
                    declared.place(),
                    "is a " + declared.javaType().getSimpleName() + ", for which there is no column type;"
                            + " make it a number, text, enum, date or time, UUID or byte[], a record, declare it inline"
                            + " or parts, give a Converter, declare it json(), or mark the field transient");
            return null;
        }
        ColumnType type = sized(declared, found.get());
        if (declared.key() || declared.unique()) {
            if (type.kind() == ColumnType.Kind.LONG_TEXT) {
                scope.fault(
                        declared.place(),
                        "is a long text, which cannot be unique or a key; declare length(...) instead");
            }
            type = indexable(type);
        }
        return new Typed(type, converter);
    }

    private static @Nullable DatabaseMade databaseMade(List<?> options) {
        return options.stream()
                .filter(Options.Made.class::isInstance)
                .map(option -> ((Options.Made) option).made())
                .findFirst()
                .orElse(null);
    }

    private @Nullable Converter<?, ?> json(Declared declared) {
        if (!declared.has(Options.Json.class)) {
            return null;
        }
        Optional<JsonCodec> codec = ServiceLoader.load(JsonCodec.class).findFirst();
        if (codec.isEmpty()) {
            scope.fault(
                    declared.place(),
                    "is declared json(), but there is no " + JsonCodec.class.getName()
                            + " service; provide one on top of a JSON library");
            return null;
        }
        Type type = declared.genericType();
        return Converter.to(
                String.class,
                value -> codec.get().write(value, type),
                json -> codec.get().read(json, type));
    }

    /** A text that has to be unique needs a length: not every database indexes endless ones. */
    private static ColumnType indexable(ColumnType type) {
        return type.kind() == ColumnType.Kind.STRING && type.length() == 0 ? type.withLength(INDEXED_LENGTH) : type;
    }

    private ColumnType sized(Declared declared, ColumnType convention) {
        ColumnType type = convention;
        String is = "is a " + declared.javaType().getSimpleName();
        for (Object option : declared.options()) {
            if (option instanceof Options.Length length) {
                if (type.kind() != ColumnType.Kind.STRING) {
                    scope.fault(
                            declared.place(),
                            is + ", so length(" + length.length() + ") has no meaning; only texts have a length");
                }
                type = type.withLength(length.length());
            } else if (option instanceof Options.LongText || option instanceof Options.Json) {
                if (type.kind() != ColumnType.Kind.STRING) {
                    scope.fault(declared.place(), is + ", so text() has no meaning; only texts are long");
                }
                type = type.asLongText();
            } else if (option instanceof Options.Digits digits) {
                if (type.kind() != ColumnType.Kind.DECIMAL) {
                    scope.fault(declared.place(), is + ", so digits(...) has no meaning; only a BigDecimal has digits");
                }
                type = type.withDigits(digits.precision(), digits.scale());
            }
        }
        return type;
    }

    /** A key as a record: each component is a column. */
    private @Nullable ColumnAttribute recordKey(PersistentField field, FieldAccess access, int slot) {
        List<ColumnAttribute.Part> parts = new ArrayList<>();
        List<Gate> gates = new ArrayList<>();
        for (RecordComponent component : field.type().getRecordComponents()) {
            Optional<ColumnType> type = ColumnType.of(component.getType());
            if (type.isEmpty() || !KEY_KINDS.contains(type.get().kind())) {
                scope.fault(
                        field.name() + "." + component.getName(),
                        "cannot be part of a key, since it is a "
                                + component.getType().getSimpleName()
                                + "; take a whole number, a String, an enum, a LocalDate or a UUID");
                return null;
            }
            String name = scope.columnName(component.getName(), List.of());
            scope.claimColumn(name, field.name() + "." + component.getName());
            Gate gate = Gate.of(place(field.name() + "." + component.getName()), indexable(type.get()));
            gates.add(gate);
            parts.add(new ColumnAttribute.Part(component.getName(), name, gate, true));
        }
        try {
            return new ColumnAttribute(
                    entity,
                    field.name(),
                    access,
                    slot,
                    parts,
                    true,
                    FieldHandles.recordShape(field.type(), gates, scope.lookup()),
                    Traits.PLAIN);
        } catch (IllegalAccessException e) {
            scope.fault(field.name(), "cannot be reached: " + e.getMessage());
            return null;
        }
    }
}
