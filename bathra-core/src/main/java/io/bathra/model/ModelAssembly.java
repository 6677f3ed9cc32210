package io.bathra.model;

import io.bathra.error.ModelException;
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

    ModelAssembly(String model, @Nullable Lookup lookup, Naming naming, List<Entity<?>> declarations) {
        this.model = model;
        this.lookup = lookup;
        this.naming = naming;
        this.declarations = declarations;
    }

    List<ModelEntity<?>> build() {
        if (declarations.isEmpty()) {
            faults.add("it has no entity; name some: Model.of(\"" + model + "\", VESSEL, PORT_CALL)");
        }
        Map<String, Class<?>> tables = new HashMap<>();
        for (Entity<?> declaration : declarations) {
            begin(declaration, tables);
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
            assemblies.values().forEach(assembly -> assembly.associations().connectToManys(entities));
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
                    one.getKey().columnsAreKnown();
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
            assemblies.keySet().forEach(ModelEntity::columnsAreKnown);
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

    private <E> void begin(Entity<E> declaration, Map<String, Class<?>> tables) {
        Class<E> type = declaration.type();
        String declared = declaration.table();
        String table = declared == null ? naming.inSql(type.getSimpleName()) : declared;
        if (entities.containsKey(type)) {
            faults.add(type.getSimpleName() + ": declared twice in this model; name it once in Model.of");
            return;
        }
        checkLength(type.getSimpleName(), "table", table, ".table(...)");
        Class<?> other = tables.putIfAbsent(table.toLowerCase(Locale.ROOT), type);
        if (other != null) {
            faults.add(type.getSimpleName() + ": its table '" + table + "' is that of " + other.getSimpleName()
                    + " too; give one of them another name with .table(...)");
        }
        ModelEntity<E> entity =
                new ModelEntity<>(type, declaration.constructor(), table, declaration.isView(), entities.size());
        entities.put(type, entity);
        assemblies.put(entity, new EntityAssembly<>(declaration, entity, lookup, naming, faults));
    }
}
