package io.bathra.form;

import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** A value of several members: an inlined value, a part of several columns, or a key of several attributes. */
public final class GroupField extends FormField {
    private final List<FormField> members;
    private final Function<Object, @Nullable Object> reader;
    private final Function<List<@Nullable Object>, @Nullable Object> maker;

    GroupField(
            String name,
            List<FormField> members,
            Function<Object, @Nullable Object> reader,
            Function<List<@Nullable Object>, @Nullable Object> maker,
            boolean settable) {
        super(name, settable);
        this.members = List.copyOf(members);
        this.reader = reader;
        this.maker = maker;
    }

    /** Whether all of its members are secret; a member that is not can be shown. */
    @Override
    public boolean isSecret() {
        return members.stream().allMatch(FormField::isSecret);
    }

    /** {@return the fields inside, in the order of their class; links among them where it is a part} */
    public List<FormField> members() {
        return members;
    }

    /**
     * {@return what the members are asked of; null where there is no value}
     *
     * @param owner whose it is
     */
    public @Nullable Object in(Object owner) {
        return reader.apply(owner);
    }

    /**
     * The value of these members.
     *
     * @param values for each member in order: a value, a group's value, a link's key, or null
     * @return null where all of them are missing, and such a value is none
     */
    public @Nullable Object of(List<@Nullable Object> values) {
        return maker.apply(values);
    }

    @Override
    public String toString() {
        return name();
    }
}
