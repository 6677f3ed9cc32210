package io.bathra.model;

import io.bathra.error.BathraException;
import io.bathra.error.ModelException;
import java.lang.invoke.MethodHandles.Lookup;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A named, checked set of entity declarations. Immutable and safe to share between threads.
 *
 * <pre>{@code
 * public static final Model MODEL = Model.of("harbour", OPERATOR, VESSEL, PORT_CALL);
 * }</pre>
 */
public final class Model {
    private final String name;
    private final @Nullable String databaseSchema;
    private final Map<Class<?>, ModelEntity<?>> entities;
    private final List<ModelEntity<?>> hidden;
    private final @Nullable String commitTokens;

    private Model(
            String name,
            @Nullable String databaseSchema,
            List<ModelEntity<?>> entities,
            List<ModelEntity<?>> hidden,
            @Nullable String commitTokens) {
        this.commitTokens = commitTokens;
        this.name = name;
        this.databaseSchema = databaseSchema;
        this.hidden = hidden;
        Map<Class<?>, ModelEntity<?>> byType = new LinkedHashMap<>();
        entities.forEach(entity -> byType.put(entity.type(), entity));
        this.entities = byType;
    }

    /**
     * Makes a model of these declarations.
     *
     * @throws ModelException with all faults at once
     */
    public static Model of(String name, Entity<?>... entities) {
        return of(new ModelAssembly(name, null, Naming.SNAKE_CASE, List.of(entities)));
    }

    /**
     * Makes a model whose names follow another convention than {@code snake_case}. Names that are declared stay as they
     * are.
     *
     * @throws ModelException with all faults at once
     */
    public static Model of(String name, Naming naming, Entity<?>... entities) {
        return of(new ModelAssembly(name, null, naming, List.of(entities)));
    }

    /**
     * Makes a model of entities whose module does not open their packages to Bathra.
     *
     * @param lookup made with {@code MethodHandles.lookup()} in the module of the entities
     * @throws ModelException with all faults at once
     */
    public static Model of(String name, Lookup lookup, Entity<?>... entities) {
        return of(name, lookup, Naming.SNAKE_CASE, entities);
    }

    /**
     * Makes a model of entities whose module does not open their packages to Bathra, with a convention for names of its
     * own.
     *
     * @throws ModelException with all faults at once
     */
    public static Model of(String name, Lookup lookup, Naming naming, Entity<?>... entities) {
        Objects.requireNonNull(lookup, "lookup");
        return of(new ModelAssembly(name, lookup, naming, List.of(entities)));
    }

    private static Model of(ModelAssembly assembly) {
        List<ModelEntity<?>> entities = assembly.build();
        Stream.of(entities, assembly.hidden())
                .flatMap(List::stream)
                .flatMap(table -> table.links().stream())
                .forEach(link -> link.target().linkLeadsHere(link));
        return new Model(assembly.model(), null, entities, assembly.hidden(), null);
    }

    public String name() {
        return name;
    }

    /**
     * The same model with its tables in a named schema of the database, instead of the one that a connection is in. All SQL
     * names it. MariaDB's schemas are its databases, those of SQLite the files that are attached to a connection.
     */
    public Model inSchema(String schema) {
        if (schema.isBlank()) {
            throw new IllegalArgumentException("the schema of the model '" + name + "' must have a name");
        }
        return new Model(name, schema, entities(), hidden, commitTokens);
    }

    /** The database schema of the tables; null for the one that a connection is in. */
    public @Nullable String databaseSchema() {
        return databaseSchema;
    }

    /** All entities, in the order of the declaration. */
    public List<ModelEntity<?>> entities() {
        return List.copyOf(entities.values());
    }

    /** What has a table or view: all entities, then what stands behind parts and pivots. */
    public List<ModelEntity<?>> tables() {
        List<ModelEntity<?>> all = new ArrayList<>(entities.values());
        all.addAll(hidden);
        return List.copyOf(all);
    }

    /**
     * The entity of a class.
     *
     * @throws BathraException when the class is not in this model
     */
    @SuppressWarnings("unchecked") // each class is mapped to its own entity
    public <E> ModelEntity<E> entity(Class<? extends E> type) {
        ModelEntity<?> found = entities.get(type);
        if (found == null) {
            throw new BathraException(type.getName() + " is not in the model '" + name + "', which has "
                    + entities.values() + "; declare it with Entity.of and name it in Model.of");
        }
        return (ModelEntity<E>) found;
    }

    /** The entity of a class, if it is one of this model. */
    @SuppressWarnings("unchecked") // each class is mapped to its own entity
    public <E> Optional<ModelEntity<E>> entityIfAny(Class<E> type) {
        return Optional.ofNullable((ModelEntity<E>) entities.get(type));
    }

    /**
     * The same model with a table for commit tokens. A unit of work that may be done again, and writes, puts a token into it in
     * its own transaction, so that when the reply to COMMIT is lost it can be found out whether the work was done; then it is
     * done exactly once. Used tokens are deleted in portions, by later units.
     *
     * @param table the table's name; {@code schema().createMissing()} makes it
     */
    public Model commitTokens(String table) {
        if (table.isBlank()) {
            throw new IllegalArgumentException(
                    "the table for commit tokens of the model '" + name + "' must have a name");
        }
        return new Model(name, databaseSchema, entities(), hidden, table);
    }

    /** The table for commit tokens; null when there are none. */
    public @Nullable String commitTokens() {
        return commitTokens;
    }

    /** Entities, attributes, associations and rules as compact text. */
    public String describe() {
        return Description.of(this);
    }

    @Override
    public String toString() {
        return "Model(" + name + ": " + entities.values() + ")";
    }
}
