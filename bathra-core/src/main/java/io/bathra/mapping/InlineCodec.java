package io.bathra.mapping;

import io.bathra.link.Link;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Takes an inlined value apart into what its columns keep, and makes it of that again. */
public final class InlineCodec {
    /**
     * A member of an inlined value.
     *
     * @param way how it is reached in the value
     * @param gate for a column: where its values pass; null for a value inside the value
     * @param nested for a value inside the value: how that is taken apart; null for a column
     */
    public record Member(
            FieldAccess way, @Nullable Gate gate, @Nullable InlineCodec nested) {
        int width() {
            return nested == null ? 1 : nested.width;
        }
    }

    private final List<Member> members;
    private final Function<List<@Nullable Object>, Object> maker;
    private final boolean always;
    private final int width;

    /**
     * @param maker makes the value of the values of its members
     * @param always whether there is a value even where all columns are empty
     */
    public InlineCodec(List<Member> members, Function<List<@Nullable Object>, Object> maker, boolean always) {
        this.members = List.copyOf(members);
        this.maker = maker;
        this.always = always;
        this.width = members.stream().mapToInt(Member::width).sum();
    }

    /** A link inside a part: it has no column here, and is made empty, to be filled with the row. */
    public static InlineCodec link() {
        return new InlineCodec(List.of(), values -> Link.empty(), true);
    }

    /** The values of the columns, in order. */
    List<@Nullable Object> apart(Object value) {
        List<@Nullable Object> parts = new ArrayList<>(width);
        takeApart(value, parts);
        return Collections.unmodifiableList(parts);
    }

    private void takeApart(@Nullable Object value, List<@Nullable Object> into) {
        for (Member member : members) {
            Object one = value == null ? null : member.way().get(value);
            if (member.nested() != null) {
                member.nested().takeApart(one, into);
            } else {
                into.add(
                        one == null
                                ? null
                                : Objects.requireNonNull(member.gate()).stored(one));
            }
        }
    }

    /** The value whose columns keep these. */
    Object whole(List<? extends @Nullable Object> parts) {
        List<@Nullable Object> values = new ArrayList<>(members.size());
        int from = 0;
        for (Member member : members) {
            List<? extends @Nullable Object> own = parts.subList(from, from + member.width());
            values.add(
                    member.nested() == null
                            ? column(member, own.get(0))
                            : member.nested().wholeOrNull(own));
            from += member.width();
        }
        return maker.apply(values);
    }

    private @Nullable Object wholeOrNull(List<? extends @Nullable Object> parts) {
        return !always && parts.stream().allMatch(Objects::isNull) ? null : whole(parts);
    }

    private static @Nullable Object column(Member member, @Nullable Object stored) {
        return stored == null ? null : Objects.requireNonNull(member.gate()).user(stored);
    }
}
