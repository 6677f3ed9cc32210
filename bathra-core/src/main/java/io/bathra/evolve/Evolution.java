package io.bathra.evolve;

import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.evolve.FileState.State;
import io.bathra.flush.Environment;
import io.bathra.ledger.Applier;
import io.bathra.ledger.FileSteps;
import io.bathra.ledger.Ledger.Line;
import io.bathra.mapping.Mapping;
import io.bathra.schema.Layout;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Change files and the database of a store: what it has had, and what it is still to have. */
public final class Evolution {
    private final Store store;
    private final History history;
    private final Consumer<String> told;

    private Evolution(Store store, History history, Consumer<String> told) {
        this.store = store;
        this.history = history;
        this.told = told;
    }

    /**
     * {@return the files of a history and the database of a store}
     *
     * @param store the store
     * @param history the files so far
     */
    public static Evolution of(Store store, History history) {
        return new Evolution(
                Objects.requireNonNull(store, "store"), Objects.requireNonNull(history, "history"), words -> {});
    }

    /**
     * {@return the same with somebody who is told what is done, line by line}
     *
     * @param listener whoever is to hear of it
     */
    public Evolution told(Consumer<String> listener) {
        return new Evolution(store, history, Objects.requireNonNull(listener, "listener"));
    }

    private Applier applier() {
        return new Applier(Environment.of(store), told);
    }

    private List<FileSteps> files() {
        List<FileSteps> files = new ArrayList<>();
        for (Played played : history.played()) {
            List<Layout> layouts = new ArrayList<>(played.before());
            layouts.add(played.after());
            files.add(new FileSteps(
                    played.change().name(),
                    fingerprint(played.change()),
                    played.steps(),
                    layouts,
                    Breaking.note(played)));
        }
        return files;
    }

    /** What tells a file's content from any other; notes, blanks and the order of nothing else play no part. */
    private static String fingerprint(Change change) {
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            return HexFormat.of()
                    .formatHex(digest.digest(change.content().toString().getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    /**
     * {@return each file, and what has become of it on this database; those that it has had and nobody has any more
     * come last}
     */
    public List<FileState> status() {
        return states(applier().lines());
    }

    private List<FileState> states(List<Line> had) {
        List<FileSteps> files = files();
        Map<String, Line> lines = had.stream()
                .collect(Collectors.toMap(Line::name, Function.identity(), (a, b) -> a, LinkedHashMap::new));
        List<FileState> states = new ArrayList<>();
        for (FileSteps file : files) {
            Line line = lines.remove(file.name());
            states.add(
                    line == null || line.isUntouched()
                            ? new FileState(file.name(), State.PENDING, null, null, null)
                            : state(line, state(file, line)));
        }
        lines.values().forEach(line -> states.add(state(line, State.MISSING)));
        return List.copyOf(states);
    }

    private static State state(FileSteps file, Line line) {
        return !line.fingerprint().equals(file.fingerprint())
                ? State.CHANGED
                : line.isDone() ? State.APPLIED : State.BEGUN;
    }

    private static FileState state(Line line, State state) {
        return new FileState(line.name(), state, line.begunAt(), line.endedAt(), line.by());
    }

    /**
     * {@return the files that would be applied}
     *
     * @param terms how they are applied
     * @throws BathraException when the database has had other files than these
     */
    public List<String> pending(ApplyTerms terms) {
        return applier().pending(files(), terms.order());
    }

    /**
     * Applies what this database has not had, as the only one who does. Whoever was stopped in between is gone on with.
     *
     * @param terms how they are applied
     * @return the names of the files; empty when there was nothing to do
     * @throws BathraException when the database has had other files than these, its tables are not what they make,
     *     rows are in
     * the way of a step, something would be lost that the terms do not agree to, or somebody else was not done in
     * time
     */
    public List<String> apply(ApplyTerms terms) {
        return List.copyOf(applier().apply(files(), terms.order()));
    }

    /**
     * Takes files for applied on a database that was made otherwise, after its tables were compared with what they
     * make.
     *
     * @param terms how they are applied
     * @return their names
     * @throws BathraException when the tables differ
     */
    public List<String> adopt(ApplyTerms terms) {
        return List.copyOf(applier().adopt(files(), terms.order()));
    }

    /**
     * For the beginning of a program: looks whether the database has had all of these files. One that has had more, since a
     * later release is there already, is all right as long as this release survives what it does not know: whoever applies a
     * file notes what {@code check} says of it.
     *
     * @throws BathraException when the database is behind, a file has begun, or was changed after it was applied, or a file
     *     of a later release breaks this one
     */
    public void require() {
        List<Line> lines = applier().lines();
        List<FileState> states = states(lines);
        List<FileState> wrong = states.stream()
                .filter(one -> one.state() != State.APPLIED && one.state() != State.MISSING)
                .toList();
        if (!wrong.isEmpty()) {
            throw new BathraException("the database is not what this release needs: "
                    + wrong.stream()
                            .map(one -> one.name() + " is " + one.state())
                            .collect(Collectors.joining(", "))
                    + "; apply the change files before the program begins");
        }
        Layout own = Layout.of(Mapping.of(store.model()));
        for (Line line : lines) {
            if (states.stream()
                    .anyMatch(one -> one.state() == State.MISSING && one.name().equals(line.name()))) {
                List<String> broken = Breaking.of(line.breaking(), own);
                if (!broken.isEmpty()) {
                    throw new BathraException("the database has had " + line.name()
                            + " from a later release, with which this one breaks: " + String.join("; ", broken)
                            + "; start a release that knows the file");
                }
                told.accept(
                        "the database has had " + line.name() + " from a later release, which does not break this one");
            }
        }
    }

    /** {@return in words: "nothing to do: 12 files, all applied"} */
    public String nothingToDo() {
        int files = history.changes().size();
        return "nothing to do: " + files + (files == 1 ? " file, which is" : " files, all") + " applied";
    }
}
