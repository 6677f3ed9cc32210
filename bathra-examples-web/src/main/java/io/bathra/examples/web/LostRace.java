package io.bathra.examples.web;

import io.bathra.PendingChange;
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
     * @param mine what is wanted
     * @param theirs what is there
     */
    record Clash(
            @Nullable String field,
            @Nullable String mine,
            @Nullable String theirs) {}

    private final transient List<Clash> clashes;

    private LostRace(List<Clash> clashes, @Nullable RuntimeException cause) {
        super(clashes.toString(), cause);
        this.clashes = List.copyOf(clashes);
    }

    List<Clash> clashes() {
        return clashes;
    }

    /**
     * Refuses to change what is not what somebody has seen.
     *
     * @param there the revision that is there
     * @param seen the one that he has seen
     * @param wanted what he would change
     */
    static void refuse(int there, int seen, List<PendingChange> wanted) {
        if (there != seen) {
            throw new LostRace(
                    wanted.stream()
                            .filter(one -> !"revision".equals(one.attribute()))
                            .map(one -> new Clash(one.attribute(), text(one.after()), text(one.before())))
                            .toList(),
                    null);
        }
    }

    /** A failure as a lost race, if it is one: what was there when it was read may be gone at the flush. */
    static @Nullable LostRace of(RuntimeException e) {
        LostRace told = Answers.cause(e, LostRace.class);
        ConcurrentChangeException race = Answers.cause(e, ConcurrentChangeException.class);
        return told != null || race == null
                ? told
                : new LostRace(
                        race.conflicts().stream()
                                .map(one -> new Clash(one.attribute(), text(one.mine()), text(one.theirs())))
                                .toList(),
                        e);
    }

    private static @Nullable String text(@Nullable Object value) {
        return value == null ? null : Objects.toString(value);
    }
}
