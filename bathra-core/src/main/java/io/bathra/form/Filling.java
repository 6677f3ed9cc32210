package io.bathra.form;

import io.bathra.error.BathraException;
import io.bathra.error.Flaw;
import io.bathra.error.Problem;
import io.bathra.input.Given;
import io.bathra.input.Settable;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.StoredAttribute;
import java.util.AbstractMap.SimpleEntry;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * What is given from outside for an entity, and for others that are given with it: everything that is wrong is told,
 * and either all of it is set, or nothing.
 */
public final class Filling {
    private final Given given;

    private Filling(Given given) {
        this.given = given;
    }

    static Filling of(Settable settable, String name) {
        return new Filling(Given.of(settable, name));
    }

    /**
     * {@return what is given for another entity on the way}
     *
     * @param step the way to it: {@code vessel}, {@code certificates[2]}
     * @param others what tells those at the other end
     */
    public Filling inside(String step, OpenFields others) {
        return new Filling(given.inside(step, others.settable()));
    }

    /**
     * {@return whether a field may be set}
     *
     * @param field the field
     */
    public boolean maySet(FormField field) {
        return given.maySet(field.ofEntity());
    }

    /**
     * Takes what is given for a field of the entity.
     *
     * @param value that of a value or group; of a link, its key; null for none
     * @param field the field
     */
    public void value(FormField field, @Nullable Object value) {
        given.value((StoredAttribute) field.ofEntity(), value);
    }

    /**
     * Takes the parts of a collection.
     *
     * @param keys of a map, the keys of its entries; empty for any other
     * @param elements the elements
     * @param field the field
     */
    public void parts(PartsField field, List<?> keys, List<?> elements) {
        PartsAttribute attribute = field.attribute();
        List<HiddenRow> rows = new ArrayList<>();
        for (int i = 0; i < elements.size(); i++) {
            try {
                Object key = field.key() == null ? null : keys.get(i);
                rows.add(row(attribute, key, elements.get(i), i));
            } catch (BathraException e) {
                flaw(field, field.name() + "[" + i + "]", null, Flaw.other("cannot be taken: " + e.getMessage()));
            }
        }
        given.parts(attribute, rows);
    }

    private static HiddenRow row(PartsAttribute attribute, @Nullable Object key, Object element, int index) {
        PartsAttribute.Parts parts = attribute.parts();
        HiddenRow row = parts.rows().instantiate();
        Object stored = element instanceof PartValue part ? part.stored() : element;
        Object user = stored == null ? null : parts.element().user(stored);
        ColumnAttribute keyColumn = parts.key();
        Object part = keyColumn == null || key == null ? user : new SimpleEntry<>(keyColumn.user(key), user);
        attribute.put(row, part, (long) index);
        if (element instanceof PartValue value) {
            value.keys().forEach((link, to) -> {
                if (to != null) {
                    ((Link<?>) link.holder(row)).toKey(to);
                }
            });
        }
        return row;
    }

    /**
     * Takes an entity that a link is to lead to, which is given along.
     *
     * @param owner the entity with the link
     * @param inside what is given for the target
     * @param field the field
     * @param target where it leads
     */
    public void leads(LinkField field, Object owner, Filling inside, Object target) {
        given.leads(field.attribute(), () -> {
            inside.set(target);
            @SuppressWarnings("unchecked") // whoever gives it has made it of the target's class
            Link<Object> link = (Link<Object>) field.attribute().holder(owner);
            if (field.target(owner) != target) {
                link.set(target);
            }
        });
    }

    /**
     * Takes an entity that an association is to lead to, besides those that are there.
     *
     * @param field the field
     * @param owner whose it is
     * @param inside what is given for the other entity
     * @param target where it leads
     */
    public void leads(EndField field, Object owner, Filling inside, Object target) {
        given.leads(field.attribute(), () -> {
            inside.set(target);
            put(Objects.requireNonNull(field.attribute().get(owner)), target);
        });
    }

    @SuppressWarnings("unchecked") // whoever gives it has made it of the target's class
    private static void put(Object holder, Object target) {
        if (holder instanceof Links<?> links) {
            ((Links<Object>) links).add(target);
        } else {
            ((Link<Object>) holder).set(target);
        }
    }

    /**
     * Tells what is wrong.
     *
     * @param field the field of the entity that it is about; null for what is no field
     * @param label the field, and the way into it: {@code dimensions.beam}
     * @param shown the value as it may be shown
     * @param flaw what is wrong
     */
    public void flaw(@Nullable FormField field, String label, @Nullable Object shown, Flaw flaw) {
        given.flaw(field == null ? null : field.ofEntity(), label, shown, flaw);
    }

    /** {@return everything that is wrong so far, here and inside} */
    public List<Problem> problems() {
        return given.problems();
    }

    /**
     * Looks at everything that is given: that values fit, that what is required is there, that declared checks hold as
     * far as the entity alone tells.
     *
     * @param object the entity in which it will be set
     * @param isStored whether that has a row already, so that its key stays
     */
    public void look(Object object, boolean isStored) {
        given.look(object, isStored);
    }

    /**
     * Sets what was looked at in the entity.
     *
     * @param object the object
     */
    public void set(Object object) {
        given.set(object);
    }
}
