package io.bathra.model;

import io.bathra.model.Entity.AttributeLine;
import io.bathra.model.Entity.ConvertedLine;
import java.lang.invoke.MethodHandles.Lookup;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Makes the columns of one entity: types by convention, options, converters, keys as records. */
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

    private final EntityAssembly<?> owner;
    private final ModelEntity<?> entity;
    private final @Nullable Lookup lookup;

    ColumnAssembly(EntityAssembly<?> owner, ModelEntity<?> entity, @Nullable Lookup lookup) {
        this.owner = owner;
        this.entity = entity;
        this.lookup = lookup;
    }

    @Nullable
    ColumnAttribute column(PersistentField field, FieldAccess access, int slot) {
        boolean key = owner.isKey(field);
        if (key && field.type().isRecord()) {
            return recordKey(field, access, slot);
        }
        AttributeLine line = owner.line(field.name());
        List<?> options = owner.columnOptions(field);
        Converter<?, ?> converter = converter(field, line, options);
        Optional<ColumnType> found = ColumnType.of(converter == null ? field.type() : converter.stored());
        if (key && (found.isEmpty() || !KEY_KINDS.contains(found.get().kind()))) {
            owner.fault(
                    field.name(),
                    "cannot be a key, since it is a " + field.type().getSimpleName()
                            + "; take a whole number, a String, an enum, a LocalDate, a UUID, or a record of these");
            return null;
        }
        if (found.isEmpty()) {
            owner.fault(
                    field.name(),
                    "is a " + field.type().getSimpleName() + ", for which there is no column type;"
                            + " make it a number, text, enum, date or time, UUID or byte[], give a Converter, declare it"
                            + " json(), or mark the field transient");
            return null;
        }
        ColumnType type = sized(field, found.get(), options);
        if (key || owner.isUnique(field)) {
            if (type.kind() == ColumnType.Kind.LONG_TEXT) {
                owner.fault(
                        field.name(), "is a long text, which cannot be unique or a key; declare length(...) instead");
            }
            type = indexable(type);
        }
        if (key && EntityAssembly.has(options, Options.Secret.class)) {
            owner.fault(field.name(), "is a key and cannot be secret, since messages name rows by their keys");
        }
        String name = owner.columnName(field.name(), options);
        owner.claimColumn(name, field.name());
        return new ColumnAttribute(
                entity,
                field.name(),
                access,
                slot,
                List.of(name),
                key || field.type().isPrimitive() || EntityAssembly.has(options, Options.Required.class),
                new Shape.Single(type),
                new Traits(
                        field.type().isPrimitive(),
                        converter,
                        databaseMade(options),
                        EntityAssembly.has(options, Options.Secret.class)));
    }

    private static @Nullable DatabaseMade databaseMade(List<?> options) {
        return options.stream()
                .filter(Options.Made.class::isInstance)
                .map(option -> ((Options.Made) option).made())
                .findFirst()
                .orElse(null);
    }

    private @Nullable Converter<?, ?> converter(PersistentField field, @Nullable AttributeLine line, List<?> options) {
        if (line instanceof ConvertedLine converted) {
            return converted.converter();
        }
        if (!EntityAssembly.has(options, Options.Json.class)) {
            return null;
        }
        Optional<JsonCodec> codec = ServiceLoader.load(JsonCodec.class).findFirst();
        if (codec.isEmpty()) {
            owner.fault(
                    field.name(),
                    "is declared json(), but there is no " + JsonCodec.class.getName()
                            + " service; provide one on top of a JSON library");
            return null;
        }
        Type type = field.field().getGenericType();
        return Converter.to(
                String.class,
                value -> codec.get().write(value, type),
                json -> codec.get().read(json, type));
    }

    /** A text that has to be unique needs a length: not every database indexes endless ones. */
    private static ColumnType indexable(ColumnType type) {
        return type.kind() == ColumnType.Kind.STRING && type.length() == 0 ? type.withLength(INDEXED_LENGTH) : type;
    }

    private ColumnType sized(PersistentField field, ColumnType convention, List<?> options) {
        ColumnType type = convention;
        for (Object option : options) {
            if (option instanceof Options.Length length) {
                if (type.kind() != ColumnType.Kind.STRING) {
                    owner.fault(
                            field.name(),
                            "is a " + field.type().getSimpleName() + ", so length(" + length.length()
                                    + ") has no meaning; only texts have a length");
                }
                type = type.withLength(length.length());
            } else if (option instanceof Options.LongText || option instanceof Options.Json) {
                if (type.kind() != ColumnType.Kind.STRING) {
                    owner.fault(
                            field.name(),
                            "is a " + field.type().getSimpleName() + ", so text() has no meaning; only texts are long");
                }
                type = type.asLongText();
            } else if (option instanceof Options.Digits digits) {
                if (type.kind() != ColumnType.Kind.DECIMAL) {
                    owner.fault(
                            field.name(),
                            "is a " + field.type().getSimpleName()
                                    + ", so digits(...) has no meaning; only a BigDecimal has digits");
                }
                type = type.withDigits(digits.precision(), digits.scale());
            }
        }
        return type;
    }

    /** A key as a record: each component is a column. */
    private @Nullable ColumnAttribute recordKey(PersistentField field, FieldAccess access, int slot) {
        List<String> names = new ArrayList<>();
        List<ColumnType> types = new ArrayList<>();
        for (RecordComponent component : field.type().getRecordComponents()) {
            Optional<ColumnType> type = ColumnType.of(component.getType());
            if (type.isEmpty() || !KEY_KINDS.contains(type.get().kind())) {
                owner.fault(
                        field.name() + "." + component.getName(),
                        "cannot be part of a key, since it is a "
                                + component.getType().getSimpleName()
                                + "; take a whole number, a String, an enum, a LocalDate or a UUID");
                return null;
            }
            String name = owner.columnName(component.getName(), List.of());
            owner.claimColumn(name, field.name() + "." + component.getName());
            names.add(name);
            types.add(indexable(type.get()));
        }
        try {
            return new ColumnAttribute(
                    entity,
                    field.name(),
                    access,
                    slot,
                    names,
                    true,
                    FieldAccess.recordShape(field.type(), types, lookup),
                    Traits.PLAIN);
        } catch (IllegalAccessException e) {
            owner.fault(field.name(), "cannot be reached: " + e.getMessage());
            return null;
        }
    }
}
