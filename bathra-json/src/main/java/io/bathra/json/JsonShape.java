package io.bathra.json;

import io.bathra.attr.Attr;
import io.bathra.link.Relation;
import io.bathra.model.Model;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Which attributes and associations of an entity go into a JSON text, and may come out of one. Immutable: each call
 * gives a new shape. Keep shapes in constants.
 *
 * <pre>{@code
 * static final JsonShape<PortCall> CALL =
 *     JsonShape.of(PortCall.class).with(PortCall::vessel, JsonShape.of(Vessel.class)).without(PortCall::remark);
 * }</pre>
 *
 * <p>A shape begins with the columns, inlined values and parts of the entity, in the order of its class, and with its
 * links as keys. Associations to many, values that are read on request, and what is secret are not in it. It nests
 * exactly as deep as it says, and leaves out the way back: a call inside of a vessel does not say which vessel.
 *
 * @param <E> the entity
 */
public final class JsonShape<E> {
    /** What is said of an attribute. */
    enum Say {
        WITH,
        WITHOUT,
        TAKING
    }

    /**
     * One choice.
     *
     * @param shape that of the entities behind an association; null for any other
     */
    record Choice<E>(
            Say say, Attr<? super E, ?> attribute, @Nullable JsonShape<?> shape) {}

    private final Class<E> type;
    private final List<Choice<E>> choices;

    /** What the shape means in the model that has asked last, which is nearly always the only one. */
    private volatile @Nullable ShapePlan<E> plan;

    private JsonShape(Class<E> type, List<Choice<E>> choices) {
        this.type = type;
        this.choices = choices;
    }

    /**
     * {@return the columns, inlined values and parts of an entity, and its links as keys}
     *
     * @param <E> the entity
     * @param type the class
     */
    public static <E> JsonShape<E> of(Class<E> type) {
        return new JsonShape<>(Objects.requireNonNull(type, "type"), List.of());
    }

    /**
     * {@return the same, and the entities behind an association, each in the shape that is given} What is asked for
     * has to be read along: to write what is unread is an error.
     *
     * @param <T> the other entity
     * @param association the association, by its accessor
     * @param shape the shape
     */
    public <T> JsonShape<E> with(Attr<? super E, ? extends Relation<T>> association, JsonShape<T> shape) {
        return and(new Choice<>(Say.WITH, association, Objects.requireNonNull(shape, "shape")));
    }

    /**
     * {@return the same, and a value that is read on request}
     *
     * @param attribute the attribute, by its accessor
     */
    public JsonShape<E> with(Attr<? super E, ?> attribute) {
        return and(new Choice<>(Say.WITH, attribute, null));
    }

    /**
     * {@return the same without an attribute}
     *
     * @param attribute the attribute, by its accessor
     */
    public JsonShape<E> without(Attr<? super E, ?> attribute) {
        return and(new Choice<>(Say.WITHOUT, attribute, null));
    }

    /**
     * {@return the same, and an attribute that is taken from a text and never written into one, such as a secret}
     *
     * @param attribute the attribute, by its accessor
     */
    public JsonShape<E> taking(Attr<? super E, ?> attribute) {
        return and(new Choice<>(Say.TAKING, attribute, null));
    }

    private JsonShape<E> and(Choice<E> choice) {
        List<Choice<E>> all = new ArrayList<>(choices);
        all.add(choice);
        return new JsonShape<>(type, List.copyOf(all));
    }

    /**
     * {@return one entity to be written in this shape, for what a framework writes}
     *
     * @param entity the entity
     */
    public Shaped show(E entity) {
        return Shaped.one(this, entity);
    }

    /**
     * {@return entities to be written in this shape, as a list}
     *
     * @param entities the entities
     */
    public Shaped showAll(Iterable<? extends E> entities) {
        return Shaped.all(this, entities);
    }

    Class<E> type() {
        return type;
    }

    List<Choice<E>> choices() {
        return choices;
    }

    ShapePlan<E> in(Model model) {
        ShapePlan<E> known = plan;
        if (known == null || known.model() != model) {
            known = ShapePlan.of(model, this, null);
            plan = known;
        }
        return known;
    }

    @Override
    public String toString() {
        return "JsonShape(" + type.getSimpleName() + ")";
    }
}
