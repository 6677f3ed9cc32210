package io.bathra.query;

import io.bathra.question.Match;

/**
 * What rows of two entities have in common. Made by {@link Ask#matching}. Immutable.
 *
 * @param <E> the one entity
 * @param <F> the other entity
 */
public final class Pairing<E, F> {
    private final Match match;

    Pairing(Match match) {
        this.match = match;
    }

    Match match() {
        return match;
    }

    @Override
    public String toString() {
        return match.toString();
    }
}
