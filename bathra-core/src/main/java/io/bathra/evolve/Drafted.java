package io.bathra.evolve;

import java.util.List;
import java.util.Optional;

/**
 * What was drafted.
 *
 * @param changes the next file, or two of them; none when there is nothing to do
 * @param possible what may have been renamed, and was drafted as dropped and added
 * @param wanting attributes and links that must have a value from now on, and for which rows that are there get none
 * @param lookedAt what was compared, in words
 */
public record Drafted(List<Change> changes, List<Possible> possible, List<String> wanting, String lookedAt) {
    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param changes the next file, or two of them; none when there is nothing to do
     * @param possible what may have been renamed, and was drafted as dropped and added
     * @param wanting attributes and links that must have a value from now on, and for which rows that are there get
     *     none
     * @param lookedAt what was compared, in words
     */
    public Drafted {
        changes = List.copyOf(changes);
        possible = List.copyOf(possible);
        wanting = List.copyOf(wanting);
    }

    /** {@return whether there is nothing to do} */
    public boolean nothingToDo() {
        return changes.isEmpty();
    }

    /** {@return the file, if only one is wanted} */
    public Optional<Change> change() {
        return changes.stream().findFirst();
    }

    /**
     * Something that goes, and something of the same kind that comes.
     *
     * @param name what goes: {@code Pilot.phone}
     * @param newName what comes, without its entity: {@code mobile}
     */
    public record Possible(String name, String newName) {
        @Override
        public String toString() {
            return name + "=" + newName;
        }
    }
}
