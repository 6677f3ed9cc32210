package io.bathra.json;

import io.bathra.error.BathraException;
import io.bathra.form.EndField;
import io.bathra.form.EntityForm;
import io.bathra.form.FormField;
import io.bathra.form.LinkField;
import io.bathra.form.OpenFields;
import io.bathra.form.ValueField;
import io.bathra.json.JsonShape.Choice;
import io.bathra.json.JsonShape.Say;
import io.bathra.model.Model;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What a shape means in a model: each field that is written, and each that is taken. */
final class ShapePlan<E> {
    /**
     * A field of the shape.
     *
     * @param index which of the fields of the entity it is
     * @param nested how the entities behind it are written; null for values, and for links as keys
     */
    record Item(int index, FormField field, @Nullable ShapePlan<?> nested) {
        String name() {
            return field.name();
        }
    }

    private final Model model;
    private final EntityForm<E> form;
    private final Item[] written;
    private final Map<String, Item> taken = new HashMap<>();
    private final OpenFields open;

    private ShapePlan(Model model, EntityForm<E> form, List<Item> written, List<Item> takenOnly) {
        this.model = model;
        this.form = form;
        this.written = written.toArray(Item[]::new);
        List<Item> all = new ArrayList<>(written);
        all.addAll(takenOnly);
        List<FormField> settable = new ArrayList<>();
        for (Item item : all) {
            if (item.field().isSettable()) {
                taken.put(item.name(), item);
                settable.add(item.field());
            }
        }
        this.open = form.open(settable);
    }

    /**
     * The plan of a shape.
     *
     * @param wayBack the association that leads back to the entity around; null for none
     * @throws BathraException when the shape asks for what cannot be shown
     */
    static <E> ShapePlan<E> of(Model model, JsonShape<E> shape, @Nullable String wayBack) {
        EntityForm<E> form = EntityForm.of(model, shape.type());
        Map<FormField, Choice<E>> chosen = new HashMap<>();
        for (Choice<E> choice : shape.choices()) {
            FormField field = form.field(choice.attribute());
            if (chosen.put(field, choice) != null) {
                throw new BathraException("the shape of " + form + " names " + field.name() + " twice; name it once");
            }
        }
        List<Item> written = new ArrayList<>();
        List<Item> takenOnly = new ArrayList<>();
        for (int index = 0; index < form.fields().size(); index++) {
            FormField field = form.fields().get(index);
            Choice<E> choice = chosen.get(field);
            Say say = choice == null ? null : choice.say();
            if (say == Say.TAKING) {
                takenOnly.add(new Item(index, field, null));
            } else if (choice != null && say == Say.WITH) {
                written.add(new Item(index, field, nested(model, form, field, choice.shape())));
            } else if (say == null && isOrdinary(field) && !field.name().equals(wayBack)) {
                written.add(new Item(index, field, null));
            }
        }
        return new ShapePlan<>(model, form, written, takenOnly);
    }

    private static boolean isOrdinary(FormField field) {
        boolean here = !(field instanceof EndField) && !(field instanceof ValueField value && !value.isWithRow());
        return here && !field.isSecret();
    }

    /** How the entities behind a field are written; null where it has none behind it. */
    private static @Nullable ShapePlan<?> nested(
            Model model, EntityForm<?> form, FormField field, @Nullable JsonShape<?> shape) {
        String place = form + "." + field.name();
        if (field.isSecret()) {
            throw new BathraException(place + " is secret, so no shape shows it; say taking(...) where it may be set");
        }
        boolean association = field instanceof LinkField || field instanceof EndField;
        if (shape == null) {
            if (field instanceof EndField) {
                throw new BathraException(place + " leads to entities, so their shape has to be known; say with("
                        + field + ", JsonShape.of(...))");
            }
            return null;
        }
        if (!association) {
            throw new BathraException(place + " leads to no entity, so it has no shape of its own; leave that out");
        }
        String back = field instanceof LinkField link ? link.wayBack() : ((EndField) field).wayBack();
        Class<?> target = field instanceof LinkField link ? link.target() : ((EndField) field).target();
        if (target != shape.type()) {
            throw new BathraException(place + " leads to " + target.getSimpleName() + ", but the shape is one of "
                    + shape.type().getSimpleName() + "; say JsonShape.of(" + target.getSimpleName() + ".class)");
        }
        return of(model, shape, back);
    }

    Model model() {
        return model;
    }

    EntityForm<E> form() {
        return form;
    }

    /** What is written, in order. */
    Item[] written() {
        return written;
    }

    /** The field of a name in a text, if it may be taken. */
    @Nullable
    Item taken(String name) {
        return taken.get(name);
    }

    /** How many fields the entity has. */
    int size() {
        return form.fields().size();
    }

    /** What may be set. */
    OpenFields open() {
        return open;
    }
}
