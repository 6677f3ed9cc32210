package io.bathra.examples.web;

import io.bathra.error.ConcurrentChangeException;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Somebody else was faster. */
final class LostRace extends RuntimeException {
    /**
     * An attribute that somebody else has changed, or would be.
     *
     * @param field its name; null when the whole booking is gone
     * @param read what the form had shown
     * @param mine what the form wants
     * @param theirs what is there
     */
    record Clash(
            @Nullable String field,
            @Nullable String read,
            @Nullable String mine,
            @Nullable String theirs) {}

    private final transient List<Clash> clashes;

    private LostRace(List<Clash> clashes, RuntimeException cause) {
        super(clashes.toString(), cause);
        this.clashes = List.copyOf(clashes);
    }

    List<Clash> clashes() {
        return clashes;
    }

    /** A failure as one that knows what the form had shown, where it is a lost race. */
    static RuntimeException of(RuntimeException e, @Nullable BookingForm form) {
        ConcurrentChangeException race = Answers.cause(e, ConcurrentChangeException.class);
        return race == null
                ? e
                : new LostRace(
                        race.conflicts().stream()
                                .map(one -> new Clash(
                                        one.attribute(),
                                        text(
                                                one.read() == null && form != null
                                                        ? form.shown(one.attribute())
                                                        : one.read()),
                                        text(one.mine()),
                                        text(one.theirs())))
                                .toList(),
                        e);
    }

    private static @Nullable String text(@Nullable Object value) {
        return value == null ? null : Objects.toString(value);
    }
}
