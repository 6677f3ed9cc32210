package io.bathra.model;

import io.bathra.attr.Converter;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.EntityMaking;
import io.bathra.mapping.FieldAccess;
import io.bathra.mapping.Gate;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.InlineCodec;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.Rules;
import io.bathra.mapping.Shape;
import io.bathra.mapping.Traits;
import io.bathra.mapping.UniqueKey;
import io.bathra.model.ColumnAssembly.Declared;
import io.bathra.model.ColumnAssembly.Typed;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Makes the table behind a collection of parts. */
final class PartsAssembly {
    /** The columns that the domain never sees. */
    private static final String KEY = "partId";

    private static final String ORDER = "position";
    private static final String MAP_KEY = "entryKey";
    private static final String SIMPLE = "element";

    private final PartsAttribute attribute;
    private final PersistentField field;
    private final List<?> options;
    private final TableScope scope;
    private final ModelEntity<HiddenRow> rows;
    private final ColumnAssembly columns;
    private final List<Attribute> all = new ArrayList<>();

    PartsAssembly(
            PartsAttribute attribute, PersistentField field, List<?> options, TableScope owner, HiddenTables tables) {
        this.attribute = attribute;
        this.field = field;
        this.options = options;
        this.scope = owner.of(attribute.toString());
        this.rows = tables.begin(
                attribute.toString(),
                ModelEntity.Kind.PARTS,
                attribute.entity(),
                attribute.name(),
                options,
                this::size);
        this.columns = new ColumnAssembly(scope, rows);
    }

    private int size() {
        return all.size();
    }

    void build(Map<Class<?>, ModelEntity<?>> entities) {
        all.add(hidden(KEY));
        LinkAttribute owner = link(HiddenTables.decapitalized(attribute.entity().name()), LinkAttribute.Ends.OWNED);
        owner.connect(attribute.entity());
        HiddenTables.nameColumns(owner, scope);
        all.add(owner);
        boolean map = attribute.kind() == PartsAttribute.Kind.MAP;
        List<@Nullable Class<?>> arguments = field.arguments();
        if (arguments.size() != (map ? 2 : 1) || arguments.contains(null)) {
            scope.fault("is a " + field.type().getSimpleName()
                    + " of an unknown type; write its type arguments, such as List<Certificate>");
            return;
        }
        ColumnAttribute order = null;
        if (attribute.kind() == PartsAttribute.Kind.LIST) {
            order = hidden(ORDER);
            all.add(order);
        }
        ColumnAttribute key = null;
        if (map) {
            key = value(MAP_KEY, arguments.get(0), List.of(), null, true);
            if (key == null) {
                return;
            }
            all.add(key);
        }
        Class<?> type = arguments.get(map ? 1 : 0);
        Options.Element simple = options.stream()
                .filter(Options.Element.class::isInstance)
                .map(Options.Element.class::cast)
                .findFirst()
                .orElse(new Options.Element(null, List.of()));
        boolean single = simple.converter() != null
                || EntityAssembly.has(simple.options(), Options.Json.class)
                || !InlineAssembly.isInlinable(type);
        ColumnAttribute element = single
                ? value(SIMPLE, type, simple.options(), simple.converter(), attribute.kind() == PartsAttribute.Kind.SET)
                : inlined(type, entities);
        if (element == null) {
            return;
        }
        if (single) {
            all.add(element);
        }
        ColumnAttribute distinct = attribute.kind() == PartsAttribute.Kind.SET && !element.isInline() ? element : key;
        List<UniqueKey> uniques =
                distinct == null ? List.of() : List.of(new UniqueKey(List.of(owner, distinct), false, null));
        EntityMaking.complete(
                rows,
                KeySource.GENERATED,
                1,
                all,
                new Rules(uniques, List.of(), List.of(), null, List.of(), List.of(), List.of()));
        EntityMaking.columnsAreKnown(rows);
        attribute.connect(new PartsAttribute.Parts(rows, owner, order, key, element));
    }

    private LinkAttribute link(String name, LinkAttribute.Ends ends) {
        return new LinkAttribute(rows, name, HiddenRow.slot(all.size()), all.size(), null, scope.naming(), true, ends);
    }

    private ColumnAttribute hidden(String name) {
        String column = scope.naming().inSql(name);
        scope.claimColumn(column, name);
        return ColumnAttribute.single(
                rows,
                name,
                HiddenRow.slot(all.size()),
                all.size(),
                new ColumnAttribute.Part("", column, Gate.of(name, ColumnType.number()), true),
                Traits.PLAIN);
    }

    private @Nullable ColumnAttribute value(
            String name, Class<?> type, List<?> columnOptions, @Nullable Converter<?, ?> converter, boolean unique) {
        Typed typed = columns.typed(new Declared(name, type, type, converter, columnOptions, false, unique));
        if (typed == null) {
            return null;
        }
        String column = scope.columnName(name, columnOptions);
        scope.claimColumn(column, name);
        boolean secret = EntityAssembly.has(columnOptions, Options.Secret.class);
        return ColumnAttribute.single(
                rows,
                name,
                HiddenRow.slot(all.size()),
                all.size(),
                new ColumnAttribute.Part("", column, typed.gate(columns.place(name), columnOptions), true),
                new Traits(false, null, null, secret, false, null));
    }

    private @Nullable ColumnAttribute inlined(Class<?> type, Map<Class<?>, ModelEntity<?>> entities) {
        InlineAssembly inline =
                new InlineAssembly(scope, columns, SIMPLE, options, attribute.kind() != PartsAttribute.Kind.SET);
        InlineCodec codec = inline.codec(type, "", true);
        if (codec == null) {
            return null;
        }
        List<Gate> gates =
                inline.parts().stream().map(ColumnAttribute.Part::gate).toList();
        int slot = all.size();
        ColumnAttribute element = new ColumnAttribute(
                rows,
                SIMPLE,
                HiddenRow.slot(slot),
                slot,
                inline.parts(),
                true,
                new Shape.Several(gates, true),
                Traits.inline(codec, inline.isSecret()));
        all.add(element);
        for (PersistentField member : inline.links()) {
            FieldAccess way = scope.open(member);
            if (way != null) {
                all.add(memberLink(member, way, slot, inline.optionsOf(member.name()), entities));
            }
        }
        return element;
    }

    /** A link inside the parts: its holder lies in the part. */
    private LinkAttribute memberLink(
            PersistentField member,
            FieldAccess way,
            int element,
            List<?> memberOptions,
            Map<Class<?>, ModelEntity<?>> entities) {
        FieldAccess holder = new FieldAccess() {
            @Override
            public @Nullable Object get(Object row) {
                Object part = ((HiddenRow) row).get(element);
                return part == null ? null : way.get(part);
            }

            @Override
            public void set(Object row, @Nullable Object value) {
                throw new IllegalStateException("a holder is never replaced");
            }
        };
        LinkAttribute link = new LinkAttribute(
                rows,
                member.name(),
                holder,
                all.size(),
                Options.name(memberOptions),
                scope.naming(),
                EntityAssembly.has(memberOptions, Options.Required.class),
                LinkAttribute.Ends.PLAIN);
        ModelEntity<?> target = member.element() == null ? null : entities.get(member.element());
        if (target == null) {
            scope.fault(
                    member.name(),
                    "leads to "
                            + (member.element() == null
                                    ? "an unknown class"
                                    : member.element().getSimpleName())
                            + ", which is not in this model; name its declaration in Model.of");
        } else {
            link.connect(target);
            HiddenTables.nameColumns(link, scope);
        }
        return link;
    }
}
