package io.bathra.mapping;

import io.bathra.error.BathraException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** A model as the library understands it. Immutable, shared between threads. */
public final class Mapping {
    private static volatile @Nullable Function<Object, Mapping> door;

    private final String name;
    private final @Nullable String databaseSchema;
    private final Map<Class<?>, ModelEntity<?>> byType;
    private final List<ModelEntity<?>> entities;
    private final List<ModelEntity<?>> tables;
    private final @Nullable String commitTokens;

    /**
     * @param entities in the order of the declaration
     * @param tables the entities, then what stands behind parts and pivots
     * @param databaseSchema the database schema of the tables; null for the one that a connection is in
     * @param commitTokens the table for commit tokens; null when there are none
     */
    private Mapping(
            String name,
            List<ModelEntity<?>> entities,
            List<ModelEntity<?>> tables,
            @Nullable String databaseSchema,
            @Nullable String commitTokens) {
        this.name = name;
        this.databaseSchema = databaseSchema;
        this.commitTokens = commitTokens;
        this.entities = entities;
        this.tables = tables;
        Map<Class<?>, ModelEntity<?>> types = new LinkedHashMap<>();
        entities.forEach(entity -> types.put(entity.type(), entity));
        this.byType = types;
    }

    /**
     * Entities that know one another.
     *
     * @param hidden what stands behind parts and pivots
     */
    public static Mapping of(String name, List<ModelEntity<?>> entities, List<ModelEntity<?>> hidden) {
        List<ModelEntity<?>> tables = new ArrayList<>(entities);
        tables.addAll(hidden);
        tables.forEach(table -> table.links().forEach(link -> link.target().linkLeadsHere(link)));
        return new Mapping(name, List.copyOf(entities), List.copyOf(tables), null, null);
    }

    /** Left here once by the class of models, which shows nobody else what a model means. */
    public static void leave(Function<Object, Mapping> left) {
        door = left;
    }

    /** What a model that a user has made means. */
    public static Mapping of(Object model) {
        return Objects.requireNonNull(door, "no model has been made yet").apply(Objects.requireNonNull(model, "model"));
    }

    /** The same with its tables in a named schema of the database. */
    public Mapping inSchema(String schema) {
        return new Mapping(name, entities, tables, schema, commitTokens);
    }

    /** The same with a table for commit tokens. */
    public Mapping withCommitTokens(String table) {
        return new Mapping(name, entities, tables, databaseSchema, table);
    }

    public String name() {
        return name;
    }

    /** The database schema of the tables; null for the one that a connection is in. */
    public @Nullable String databaseSchema() {
        return databaseSchema;
    }

    /** The table for commit tokens; null when there are none. */
    public @Nullable String commitTokens() {
        return commitTokens;
    }

    /** All entities, in the order of the declaration. */
    public List<ModelEntity<?>> entities() {
        return entities;
    }

    /** What has a table or view: all entities, then what stands behind parts and pivots. */
    public List<ModelEntity<?>> tables() {
        return tables;
    }

    /**
     * The entity of a class.
     *
     * @throws BathraException when the class is not in this model
     */
    @SuppressWarnings("unchecked") // each class is mapped to its own entity
    public <E> ModelEntity<E> entity(Class<? extends E> type) {
        ModelEntity<?> found = byType.get(type);
        if (found == null) {
            throw new BathraException(type.getName() + " is not in the model '" + name + "', which has " + entities
                    + "; declare it with Entity.of and name it in Model.of");
        }
        return (ModelEntity<E>) found;
    }

    /** The entity of a class, if it is one of this model. */
    @SuppressWarnings("unchecked") // each class is mapped to its own entity
    public <E> Optional<ModelEntity<E>> entityIfAny(Class<E> type) {
        return Optional.ofNullable((ModelEntity<E>) byType.get(type));
    }

    @Override
    public String toString() {
        return "Model(" + name + ": " + entities + ")";
    }
}
