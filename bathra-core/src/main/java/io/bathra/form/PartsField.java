package io.bathra.form;

import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.PartsAttribute;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A collection that lives and dies with its owner: a list, a set, or a map. */
public final class PartsField extends FormField {
    private final PartsAttribute attribute;
    private final @Nullable ValueField key;
    private final FormField element;

    PartsField(PartsAttribute attribute, @Nullable ValueField key, FormField element, boolean settable) {
        super(attribute.name(), settable);
        this.attribute = attribute;
        this.key = key;
        this.element = element;
    }

    PartsAttribute attribute() {
        return attribute;
    }

    @Override
    public boolean isSecret() {
        return element.isSecret() || (key != null && key.isSecret());
    }

    /** {@return the key of a map's entries; null for a list or a set} */
    public @Nullable ValueField key() {
        return key;
    }

    /** {@return an element; of a map, the value of an entry} */
    public FormField element() {
        return element;
    }

    /** {@return whether no element is there twice} */
    public boolean isSet() {
        return attribute.kind() == PartsAttribute.Kind.SET;
    }

    /**
     * {@return what {@link #element} and {@link #key} are asked of, for each part in order}
     *
     * @param owner whose it is
     */
    public List<Object> in(Object owner) {
        List<@Nullable Object> parts = attribute.now(owner);
        List<Object> rows = new ArrayList<>(parts.size());
        for (Object part : parts) {
            rows.add(attribute.row(owner, part, null));
        }
        return rows;
    }

    /**
     * {@return whether what {@link #in} gives holds an element, and not null in its place}
     *
     * @param row the row
     */
    public boolean isThere(Object row) {
        return attribute.element((HiddenRow) row) != null;
    }

    @Override
    public String toString() {
        return attribute.accessor();
    }
}
