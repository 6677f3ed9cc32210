package io.bathra.form;

import io.bathra.error.BathraException;
import io.bathra.mapping.Attribute;
import org.jspecify.annotations.Nullable;

/**
 * A field of an entity, or of a value inside one, as texts know it. What a field holds is asked of its owner: an
 * entity, or what the group around the field holds.
 */
public abstract sealed class FormField permits ValueField, GroupField, LinkField, PartsField, EndField {
    private final String name;
    private final boolean settable;

    /** Set once, before anybody sees the form; null for what lies inside of a value. */
    private @Nullable Attribute attribute;

    FormField(String name, boolean settable) {
        this.name = name;
        this.settable = settable;
    }

    /** It is the field of an entity's attribute. */
    final void isOf(Attribute ofEntity) {
        attribute = ofEntity;
    }

    /** The entity's attribute. */
    final Attribute ofEntity() {
        Attribute known = attribute;
        if (known == null) {
            throw new BathraException(this + " lies inside of a value, so it is given with that");
        }
        return known;
    }

    /** {@return the name of the field in its class; of what is inside parts, none} */
    public final String name() {
        return name;
    }

    /** {@return whether what it holds is kept out of messages, traces and logs} */
    public abstract boolean isSecret();

    /** {@return whether programs set it: no drawn key, no version, no stamp, nothing that the database computes} */
    public final boolean isSettable() {
        return settable;
    }
}
