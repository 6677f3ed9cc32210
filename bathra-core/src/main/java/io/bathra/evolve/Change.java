package io.bathra.evolve;

import io.bathra.evolve.Tree.Branch;
import io.bathra.evolve.Tree.Items;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** A file of changes: what it comes after, and its steps as they are written. Immutable. */
public final class Change {
    /** The notation that this release reads and writes. */
    private static final String NOTATION = "1";

    private final String name;
    private final @Nullable String after;
    private final Tree.Place afterPlace;
    private final List<Tree> steps;
    private final Map<Integer, String> notes;

    private Change(
            String name, @Nullable String after, Tree.Place afterPlace, List<Tree> steps, Map<Integer, String> notes) {
        this.name = name;
        this.after = after;
        this.afterPlace = afterPlace;
        this.steps = List.copyOf(steps);
        this.notes = Map.copyOf(notes);
    }

    static Change of(String name, @Nullable String after, List<Tree> steps, Map<Integer, String> notes) {
        return new Change(name, after, Tree.Place.NOWHERE, steps, notes);
    }

    /**
     * {@return what a file says}
     *
     * @param name the file's name, without what tells its notation: {@code 2026-12-03-berth-depths}
     * @param content what is inside
     * @throws FaultyChange when it has no such form; what its steps say is looked at when they are replayed
     */
    public static Change read(String name, Tree content) {
        try {
            Lines lines = Lines.of(content, "a change file");
            Tree notation = lines.need("bathra");
            String number = Lines.leaf(notation, "'bathra'").text();
            if (!number.equals(NOTATION)) {
                throw new Misread(notation, "is written for notation " + number + "; this release reads " + NOTATION);
            }
            Tree after = lines.find("after");
            Tree steps = lines.need("steps");
            lines.end();
            if (!(steps instanceof Items items) || items.items().isEmpty()) {
                throw new Misread(steps, "'steps' is a list with at least one step: - add attribute: Entity.name");
            }
            return new Change(
                    name,
                    after == null ? null : Lines.leaf(after, "'after'").text(),
                    after == null ? Tree.Place.NOWHERE : after.place(),
                    items.items(),
                    Map.of());
        } catch (Misread e) {
            throw new FaultyChange(name, e.place(), e.words());
        }
    }

    /** {@return the file's name, without what tells its notation} */
    public String name() {
        return name;
    }

    /** {@return the name of the file that it comes after; empty for the first one} */
    public Optional<String> after() {
        return Optional.ofNullable(after);
    }

    /** {@return where that name stands} */
    public Tree.Place afterPlace() {
        return afterPlace;
    }

    /** {@return the steps, as they are written} */
    public List<Tree> steps() {
        return steps;
    }

    /** {@return what a reader should know of a step, by the step's number from 0} */
    public Map<Integer, String> notes() {
        return notes;
    }

    /** {@return all of it, as it is written to a file} */
    public Branch content() {
        Tree.Growing map = Tree.map().put("bathra", Tree.word(NOTATION));
        return map.putIf(after != null, "after", String.valueOf(after))
                .put("steps", Tree.list(steps))
                .branch();
    }

    /**
     * {@return the same behind another one}
     *
     * @param other the other one
     */
    public Change behind(String other) {
        return new Change(name, other, afterPlace, steps, notes);
    }

    @Override
    public String toString() {
        return name;
    }
}
