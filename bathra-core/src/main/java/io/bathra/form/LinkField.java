package io.bathra.form;

import io.bathra.access.Doors;
import io.bathra.error.BathraException;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.OtherSide;
import org.jspecify.annotations.Nullable;

/** A link to one entity, whose key lies in the row: the key is always here, the entity as far as it was read. */
public final class LinkField extends FormField {
    private final LinkAttribute attribute;
    private final FormField key;

    LinkField(LinkAttribute attribute, FormField key, boolean settable) {
        super(attribute.name(), settable);
        this.attribute = attribute;
        this.key = key;
    }

    LinkAttribute attribute() {
        return attribute;
    }

    @Override
    public boolean isSecret() {
        return key.isSecret();
    }

    /**
     * {@return the key that it leads to: a value, or a group of the members of a key of several} Its owner is {@link
     * #in}.
     */
    public FormField key() {
        return key;
    }

    /** {@return the class of the entity that it leads to} */
    public Class<?> target() {
        return attribute.target().type();
    }

    /** {@return the name of the association at the other end that leads back here; null where none is declared} */
    public @Nullable String wayBack() {
        OtherSide other = attribute.otherSide();
        return other == null ? null : other.name();
    }

    /**
     * {@return the key that it leads to; null where it leads nowhere} Reads nothing.
     *
     * @param owner whose it is
     * @throws BathraException when it leads to an entity that has no key yet
     */
    public @Nullable Object in(Object owner) {
        Object stored = attribute.storedOf(holderOwner(owner));
        if (stored == null && target(owner) != null) {
            throw new BathraException(
                    attribute + " leads to a " + attribute.target().name()
                            + " that is not stored yet, so there is no key to tell; flush it first");
        }
        return stored;
    }

    /**
     * {@return whether what it leads to is here}
     *
     * @param owner whose it is
     */
    public boolean isRead(Object owner) {
        return Doors.link().isRead(attribute.holder(holderOwner(owner)));
    }

    /**
     * {@return the entity that it leads to, as far as it is here}
     *
     * @param owner whose it is
     */
    public @Nullable Object target(Object owner) {
        return Doors.link().target(attribute.holder(holderOwner(owner)));
    }

    /** A link inside of a part is asked of the part's row. */
    private static Object holderOwner(Object owner) {
        return owner instanceof Members members ? members.row() : owner;
    }

    /** Its accessor, as it is written: {@code PortCall::vessel}. */
    @Override
    public String toString() {
        return attribute.accessor();
    }
}
