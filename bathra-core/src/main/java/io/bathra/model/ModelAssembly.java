package io.bathra.model;

import io.bathra.access.Accessor;
import io.bathra.attr.Naming;
import io.bathra.error.ModelException;
import io.bathra.mapping.EntityMaking;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import java.lang.invoke.MethodHandles.Lookup;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Makes the entities of a model from their declarations, and collects every fault on the way. */
final class ModelAssembly {
    static final int LONGEST_NAME = 63;

    private final String model;
    private final @Nullable Lookup lookup;
    private final Naming naming;
    private final List<Entity<?>> declarations;
    private final List<String> faults = new ArrayList<>();
    private final Map<Class<?>, ModelEntity<?>> entities = new LinkedHashMap<>();
    private final Map<ModelEntity<?>, EntityAssembly<?>> assemblies = new LinkedHashMap<>();
    private final Map<String, String> tables = new HashMap<>();
    private List<ModelEntity<?>> hidden = List.of();

    ModelAssembly(String model, @Nullable Lookup lookup, Naming naming, List<Entity<?>> declarations) {
        this.model = model;
        this.lookup = lookup;
        this.naming = naming;
        this.declarations = declarations;
    }

    String model() {
        return model;
    }

    List<ModelEntity<?>> build() {
        if (declarations.isEmpty()) {
            faults.add("it has no entity; name some: Model.of(\"" + model + "\", VESSEL, PORT_CALL)");
        }
        declarations.forEach(this::begin);
        for (Entity<?> declaration : declarations) {
            tellOtherSides(declaration);
        }
        assemblies.values().forEach(EntityAssembly::buildAttributes);
        assemblies.values().forEach(assembly -> assembly.associations().connectLinks(entities));
        if (faults.isEmpty()) {
            // What leads nowhere has no key to take columns from, so these checks need a model that is whole so far.
            nameLinkColumns();
        }
        if (faults.isEmpty()
                || entities.values().stream()
                        .noneMatch(entity -> entity.links().stream().anyMatch(link -> !link.isConnected()))) {
            assemblies.values().forEach(assembly -> assembly.associations().connectOtherSides(entities));
        }
        if (faults.isEmpty()) {
            HiddenTables hiddenTables =
                    new HiddenTables(tables, new TableScope(model, naming, lookup, faults), entities.size());
            assemblies.values().forEach(assembly -> assembly.associations().makeHidden(entities, hiddenTables));
            hidden = hiddenTables.all();
        }
        if (!faults.isEmpty()) {
            throw new ModelException(model, faults);
        }
        assemblies.values().forEach(EntityAssembly::tryConstructor);
        if (!faults.isEmpty()) {
            throw new ModelException(model, faults);
        }
        return List.copyOf(entities.values());
    }

    /** The tables behind parts and pivots. */
    List<ModelEntity<?>> hidden() {
        return List.copyOf(hidden);
    }

    /** A pivot is declared on one side alone, so the other has to be told what its attribute is. */
    private void tellOtherSides(Entity<?> declaration) {
        for (Entity.Line line : declaration.lines()) {
            if (line instanceof Entity.PivotLine pivot && pivot.otherSide() != null) {
                Accessor otherSide = pivot.otherSide();
                assemblies.values().stream()
                        .filter(assembly -> otherSide.owner().isAssignableFrom(assembly.type()))
                        .forEach(assembly -> assembly.fields().otherSideOfPivot(otherSide));
            }
        }
    }

    /** A link takes its columns from the key of its target, which may itself contain links: those come first. */
    private void nameLinkColumns() {
        Set<ModelEntity<?>> named = new HashSet<>();
        boolean more = true;
        while (more) {
            more = false;
            for (Map.Entry<ModelEntity<?>, EntityAssembly<?>> one : assemblies.entrySet()) {
                boolean keysKnown = one.getValue().keyLinks().stream().allMatch(link -> named.contains(link.target()));
                if (keysKnown && named.add(one.getKey())) {
                    one.getValue().keyLinks().forEach(LinkAttribute::nameColumns);
                    EntityMaking.columnsAreKnown(one.getKey());
                    more = true;
                }
            }
        }
        for (ModelEntity<?> entity : entities.values()) {
            if (!named.contains(entity)) {
                faults.add(
                        entity.name() + ": its key contains a link that leads back to it, so no key could ever be the"
                                + " first; take that link out of the key");
            }
        }
        if (faults.isEmpty()) {
            assemblies.values().forEach(assembly -> assembly.associations().nameLinkColumns());
            assemblies.keySet().forEach(EntityMaking::columnsAreKnown);
        }
    }

    private void checkLength(String place, String kind, String name, String mend) {
        if (isTooLong(name)) {
            faults.add(place + ": its " + kind + " '" + name + "' is longer than " + LONGEST_NAME
                    + " bytes, which not every database takes; give it a shorter one with " + mend);
        }
    }

    /** PostgreSQL cuts longer names silently. */
    static boolean isTooLong(String name) {
        return name.getBytes(StandardCharsets.UTF_8).length > LONGEST_NAME;
    }

    private <E> void begin(Entity<E> declaration) {
        Class<E> type = declaration.type();
        String declared = declaration.table();
        String table = declared == null ? naming.inSql(type.getSimpleName()) : declared;
        if (entities.containsKey(type)) {
            faults.add(type.getSimpleName() + ": declared twice in this model; name it once in Model.of");
            return;
        }
        checkLength(type.getSimpleName(), "table", table, ".table(...)");
        String other = tables.putIfAbsent(table.toLowerCase(Locale.ROOT), type.getSimpleName());
        if (other != null) {
            faults.add(type.getSimpleName() + ": its table '" + table + "' is that of " + other
                    + " too; give one of them another name with .table(...)");
        }
        ModelEntity<E> entity = EntityMaking.begin(
                type,
                type.getSimpleName(),
                declaration.isView() ? ModelEntity.Kind.VIEW : ModelEntity.Kind.ENTITY,
                declaration.constructor(),
                table,
                entities.size());
        entities.put(type, entity);
        TableScope scope = new TableScope(entity.name(), naming, lookup, faults);
        assemblies.put(entity, new EntityAssembly<>(declaration, entity, scope));
    }
}
