package io.bathra.model;

import io.bathra.error.BathraException;
import io.bathra.error.ModelException;
import java.lang.invoke.MethodHandles.Lookup;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * A named, checked set of entity declarations. Immutable and safe to share between threads.
 *
 * <pre>{@code
 * public static final Model MODEL = Model.of("harbour", OPERATOR, VESSEL, PORT_CALL);
 * }</pre>
 */
public final class Model {
    private final String name;
    private final Map<Class<?>, ModelEntity<?>> entities;

    private Model(String name, List<ModelEntity<?>> entities) {
        this.name = name;
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
        return new Model(name, new ModelAssembly(name, null, Naming.SNAKE_CASE, List.of(entities)).build());
    }

    /**
     * Makes a model whose names follow another convention than {@code snake_case}. Names that are declared stay as they
     * are.
     *
     * @throws ModelException with all faults at once
     */
    public static Model of(String name, Naming naming, Entity<?>... entities) {
        return new Model(name, new ModelAssembly(name, null, naming, List.of(entities)).build());
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
        return new Model(name, new ModelAssembly(name, lookup, naming, List.of(entities)).build());
    }

    public String name() {
        return name;
    }

    /** All entities, in the order of the declaration. */
    public List<ModelEntity<?>> entities() {
        return List.copyOf(entities.values());
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

    /** Entities, attributes, associations and rules as compact text. */
    public String describe() {
        return Description.of(this);
    }

    @Override
    public String toString() {
        return "Model(" + name + ": " + entities.values() + ")";
    }
}
