package io.bathra.form;

import io.bathra.access.Accessor;
import io.bathra.attr.Attr;
import io.bathra.error.BathraException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.model.Model;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * An entity as texts know it: its fields in the order of its class. For modules that write entities in some format and
 * read them back. Immutable, made once for each entity of a model.
 *
 * @param <E> the entity
 */
public final class EntityForm<E> {
    private static final Object FORM = new Object();

    private final ModelEntity<E> entity;
    private final Map<String, FormField> byName = new LinkedHashMap<>();
    private final List<FormField> fields;

    private EntityForm(ModelEntity<E> entity) {
        this.entity = entity;
        Fields made = new Fields(entity);
        for (Attribute attribute : made.inOrderOfTheClass()) {
            FormField field = made.field(attribute);
            byName.put(field.name(), field);
            field.isOf(attribute);
        }
        this.fields = List.copyOf(byName.values());
    }

    /**
     * {@return the form of an entity}
     *
     * @param <E> the entity
     * @param model the model
     * @param type the class
     * @throws BathraException when the class is not in the model
     */
    public static <E> EntityForm<E> of(Model model, Class<E> type) {
        ModelEntity<E> entity = Mapping.of(model).entity(type);
        return entity.derived(FORM, () -> new EntityForm<>(entity));
    }

    /** {@return the class} */
    public Class<E> type() {
        return entity.type();
    }

    /** {@return the fields, in the order of the class, those of superclasses first} */
    public List<FormField> fields() {
        return fields;
    }

    /**
     * {@return the field of this name; null where there is none}
     *
     * @param name the name
     */
    public @Nullable FormField field(String name) {
        return byName.get(name);
    }

    /**
     * {@return the field that an accessor names}
     *
     * @param attribute the attribute, by its accessor
     * @throws BathraException when it names none
     */
    public FormField field(Attr<? super E, ?> attribute) {
        return Objects.requireNonNull(
                byName.get(entity.attribute(Accessor.of(attribute)).name()));
    }

    /** {@return a new, empty object} */
    public E make() {
        return entity.instantiate();
    }

    /**
     * {@return some of the fields, which may be set}
     *
     * @param settable what may be set
     */
    public OpenFields open(Collection<? extends FormField> settable) {
        return new OpenFields(this, settable);
    }

    ModelEntity<E> entity() {
        return entity;
    }

    @Override
    public String toString() {
        return entity.name();
    }
}
