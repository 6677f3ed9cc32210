package io.bathra.bulk;

import io.bathra.attr.Attr;
import io.bathra.error.BathraException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.query.Ask;
import io.bathra.query.Assignment;
import io.bathra.query.Condition;
import io.bathra.question.QueryDoor;
import io.bathra.question.SetClause;
import java.util.ArrayList;
import java.util.List;

/**
 * The attributes that rows which are there are given.
 *
 * @param <E> the entity
 */
public final class Overwrite<E> {
    private final Names names;
    private final List<SetClause> computed;

    private Overwrite(Names names, List<SetClause> computed) {
        this.names = names;
        this.computed = List.copyOf(computed);
    }

    /**
     * These attributes; all others stay as they are.
     *
     * @param <E> the entity
     * @param first the first one
     * @param more further ones
     * @return what is written over
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E> Overwrite<E> overwrite(Attr<? super E, ?> first, Attr<? super E, ?>... more) {
        return new Overwrite<>(Names.of(first, List.of(more)), List.of());
    }

    /**
     * {@return values that the database computes from the row that is there and from what is {@linkplain Ask#given
     * given}; a new
     * row is what is given} Rows of one call that have the same unique values count one after the other.
     *
     * <pre>{@code
     * store.bulk(Container.class)
     *         .upsert(
     *                 containers,
     *                 on(Container::serial),
     * overwrite(number(Container::grossKilos).to(number(Container::grossKilos).plus(given(Container::grossKilos)))));
     * }</pre>
     *
     * @param <E> the entity
     * @param first the first one
     * @param more further ones
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E> Overwrite<E> overwrite(Assignment<? super E> first, Assignment<? super E>... more) {
        QueryDoor door = QueryDoor.open(Condition.class);
        List<SetClause> clauses = new ArrayList<>(List.of(door.setClause(first)));
        for (Assignment<? super E> one : more) {
            clauses.add(door.setClause(one));
        }
        return new Overwrite<>(Names.of(List.of()), clauses);
    }

    /**
     * {@return the same for tools, which learn names at run time}
     *
     * @param <E> the entity
     * @param attributes the attributes, by their accessors
     */
    public static <E> Overwrite<E> named(List<String> attributes) {
        return new Overwrite<>(Names.of(attributes), List.of());
    }

    /**
     * {@return all attributes that the rows give, but those that tell which row is meant}
     *
     * @param <E> the entity
     */
    public static <E> Overwrite<E> overwriteAll() {
        return new Overwrite<>(Names.of(List.of()), List.of());
    }

    /** What is overwritten, where rows give these attributes. */
    Overwritten among(ModelEntity<?> entity, List<StoredAttribute> given, List<StoredAttribute> key) {
        if (!computed.isEmpty()) {
            return Overwritten.computed(entity, computed, given, key);
        }
        List<Attribute> named = names.in(entity);
        return Overwritten.plain(named.isEmpty() ? all(entity, given, key) : some(named, given, key));
    }

    private static List<StoredAttribute> all(
            ModelEntity<?> entity, List<StoredAttribute> given, List<StoredAttribute> key) {
        List<StoredAttribute> overwritten = new ArrayList<>();
        for (StoredAttribute attribute : given) {
            boolean stamp = entity.insertStamps().contains(attribute)
                    || entity.updateStamps().contains(attribute);
            if (!attribute.isKey() && !key.contains(attribute) && !attribute.isManaged() && !stamp) {
                overwritten.add(attribute);
            }
        }
        return overwritten;
    }

    private static List<StoredAttribute> some(
            List<Attribute> named, List<StoredAttribute> given, List<StoredAttribute> key) {
        List<StoredAttribute> overwritten = new ArrayList<>();
        for (Attribute attribute : named) {
            if (!(attribute instanceof StoredAttribute stored)) {
                throw new BathraException(attribute + " has no column, so it cannot be overwritten; leave it out");
            }
            Overwritten.refuseTelling(stored, key);
            if (!given.contains(stored)) {
                throw new BathraException(attribute
                        + " is to be overwritten, but the rows give no value for it; leave it out, or give it");
            }
            overwritten.add(stored);
        }
        return overwritten;
    }
}
