package io.bathra.model;

import io.bathra.attr.Naming;
import io.bathra.error.ModelException;
import io.bathra.mapping.Description;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import java.lang.invoke.MethodHandles.Lookup;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A named, checked set of entity declarations. Immutable and safe to share between threads.
 *
 * <pre>{@code
 * public static final Model MODEL = Model.of("harbour", OPERATOR, VESSEL, PORT_CALL);
 * }</pre>
 */
public final class Model {
    static {
        Mapping.leave(model -> ((Model) model).mapping);
    }

    private final Mapping mapping;

    private Model(Mapping mapping) {
        this.mapping = mapping;
    }

    /**
     * Makes a model of these declarations.
     *
     * @param name the name
     * @param entities the declarations
     * @return the model
     * @throws ModelException with all faults at once
     */
    public static Model of(String name, Entity<?>... entities) {
        return of(new ModelAssembly(name, null, Naming.SNAKE_CASE, List.of(entities)));
    }

    /**
     * Makes a model whose names follow another convention than {@code snake_case}. Names that are declared stay as they
     * are.
     *
     * @param name the name
     * @param naming how names are made
     * @param entities the declarations
     * @return the model
     * @throws ModelException with all faults at once
     */
    public static Model of(String name, Naming naming, Entity<?>... entities) {
        return of(new ModelAssembly(name, null, naming, List.of(entities)));
    }

    /**
     * Makes a model of entities whose module does not open their packages to Bathra.
     *
     * @param lookup made with {@code MethodHandles.lookup()} in the module of the entities
     * @param name the name
     * @param entities the declarations
     * @return the model
     * @throws ModelException with all faults at once
     */
    public static Model of(String name, Lookup lookup, Entity<?>... entities) {
        return of(name, lookup, Naming.SNAKE_CASE, entities);
    }

    /**
     * Makes a model of entities whose module does not open their packages to Bathra, with a convention for names of its
     * own.
     *
     * @param name the name
     * @param lookup reaches the fields of the entities
     * @param naming how names are made
     * @param entities the declarations
     * @return the model
     * @throws ModelException with all faults at once
     */
    public static Model of(String name, Lookup lookup, Naming naming, Entity<?>... entities) {
        Objects.requireNonNull(lookup, "lookup");
        return of(new ModelAssembly(name, lookup, naming, List.of(entities)));
    }

    private static Model of(ModelAssembly assembly) {
        List<ModelEntity<?>> entities = assembly.build();
        return new Model(Mapping.of(assembly.model(), entities, assembly.hidden()));
    }

    /** {@return the name} */
    public String name() {
        return mapping.name();
    }

    /**
     * {@return the same model with its tables in a named schema of the database, instead of the one that a connection
     * is in} All SQL names it. MariaDB's schemas are its databases, those of SQLite the files that are attached to a
     * connection.
     *
     * @param schema the schema's name
     */
    public Model inSchema(String schema) {
        if (schema.isBlank()) {
            throw new IllegalArgumentException("the schema of the model '" + name() + "' must have a name");
        }
        return new Model(mapping.inSchema(schema));
    }

    /** {@return the database schema of the tables; null for the one that a connection is in} */
    public @Nullable String databaseSchema() {
        return mapping.databaseSchema();
    }

    /**
     * {@return the same model with a table for commit tokens} A unit of work that may be done again, and writes, puts
     * a token into it in its own transaction, so that when the reply to COMMIT is lost it can be found out whether
     * the work was done; then it is done exactly once. Used tokens are deleted in portions, by later units. On a
     * MariaDB cluster the table also serves savepoints, which the server loses where no row was written before.
     *
     * @param table the table's name; {@code schema().createMissing()} makes it
     */
    public Model commitTokens(String table) {
        if (table.isBlank()) {
            throw new IllegalArgumentException(
                    "the table for commit tokens of the model '" + name() + "' must have a name");
        }
        return new Model(mapping.withCommitTokens(table));
    }

    /** {@return the table for commit tokens; null when there are none} */
    public @Nullable String commitTokens() {
        return mapping.commitTokens();
    }

    /** {@return all entities, in the order of the declaration, each with its columns, links and rules} */
    public List<EntityOutline> entities() {
        return mapping.entities().stream().map(EntityOutline::of).toList();
    }

    /** {@return what has a table or view: all entities, then what stands behind parts and pivots} */
    public List<EntityOutline> tables() {
        return mapping.tables().stream().map(EntityOutline::of).toList();
    }

    /**
     * {@return the entity of a class}
     *
     * @param type the class
     * @throws io.bathra.error.BathraException when the class is not in this model
     */
    public EntityOutline entity(Class<?> type) {
        return EntityOutline.of(mapping.entity(type));
    }

    /**
     * {@return an entity, its attributes, associations and rules, as compact text}
     *
     * @param entity the entity's class
     * @throws io.bathra.error.BathraException when the class is not in this model
     */
    public String describe(Class<?> entity) {
        return Description.of(mapping.entity(entity));
    }

    /**
     * Entities, attributes, associations and rules as compact text.
     *
     * @return the words
     */
    public String describe() {
        return Description.of(mapping);
    }

    @Override
    public String toString() {
        return mapping.toString();
    }
}
