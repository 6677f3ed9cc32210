package io.bathra.form;

import io.bathra.input.Settable;
import java.util.Collection;

/** The fields of an entity that may be set from outside. Immutable; made once, since each text asks. */
public final class OpenFields {
    private final EntityForm<?> form;
    private final Settable settable;

    OpenFields(EntityForm<?> form, Collection<? extends FormField> fields) {
        this.form = form;
        this.settable = Settable.of(
                form.entity(),
                fields.stream()
                        .filter(FormField::isSettable)
                        .map(FormField::ofEntity)
                        .toList());
    }

    /** {@return nothing yet of what is given for an entity} */
    public Filling filling() {
        return Filling.of(settable, form.toString());
    }

    Settable settable() {
        return settable;
    }
}
