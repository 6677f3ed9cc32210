package io.bathra.form;

import io.bathra.access.Doors;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.ToMany;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** An association of which nothing lies in the row: to many entities, or to one that holds the key itself. */
public final class EndField extends FormField {
    private final Attribute attribute;

    EndField(Attribute attribute, boolean settable) {
        super(attribute.name(), settable);
        this.attribute = attribute;
    }

    Attribute attribute() {
        return attribute;
    }

    @Override
    public boolean isSecret() {
        return false;
    }

    /** {@return whether it leads to many} */
    public boolean isToMany() {
        return attribute instanceof ToMany;
    }

    /** {@return the class of the entities that it leads to} */
    public Class<?> target() {
        return Objects.requireNonNull(attribute.target()).type();
    }

    /** {@return the name of the association at the other end that leads back here; null where none is declared} */
    public @Nullable String wayBack() {
        if (attribute instanceof LinksAttribute links) {
            return links.otherEnd().name();
        } else if (attribute instanceof InverseAttribute inverse) {
            return inverse.otherEnd().name();
        }
        PivotAttribute other = ((PivotAttribute) attribute).otherSide();
        return other == null ? null : other.name();
    }

    /**
     * {@return whether what it leads to is here}
     *
     * @param owner whose it is
     */
    public boolean isRead(Object owner) {
        return attribute instanceof ToMany many
                ? Doors.links().isRead(many.holder(owner))
                : Doors.link().isRead(((InverseAttribute) attribute).holder(owner));
    }

    /**
     * {@return what it leads to, in order, as far as it is here}
     *
     * @param owner whose it is
     */
    public List<Object> in(Object owner) {
        return attribute.present(owner);
    }

    /** Its accessor, as it is written: {@code Vessel::calls}. */
    @Override
    public String toString() {
        return attribute.accessor();
    }
}
