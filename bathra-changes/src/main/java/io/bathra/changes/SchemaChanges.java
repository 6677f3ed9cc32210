package io.bathra.changes;

import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.evolve.ApplyTerms;
import io.bathra.evolve.Change;
import io.bathra.evolve.Drafted;
import io.bathra.evolve.Evolution;
import io.bathra.evolve.FaultyChange;
import io.bathra.evolve.FileState;
import io.bathra.evolve.History;
import io.bathra.evolve.Tree;
import io.bathra.model.Model;
import java.io.IOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.net.URL;
import java.nio.charset.MalformedInputException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemAlreadyExistsException;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * The change files of a folder: what leads from one model to the next. Files are named by date and words, {@code
 * 2026-12-03-berth-depths.yaml}, and each says which one it comes after. Looks into the folder each time that it is
 * asked.
 */
public final class SchemaChanges {
    private static final String EXTENSION = ".yaml";
    private static final int LONGEST_WORDS = 80;

    private final Path folder;
    private final Clock clock;
    private final @Nullable Store store;

    private SchemaChanges(Path folder, Clock clock, @Nullable Store store) {
        this.folder = folder;
        this.clock = clock;
        this.store = store;
    }

    /**
     * {@return the change files of a folder, which need not be there yet}
     *
     * @param folder the folder
     */
    public static SchemaChanges of(Path folder) {
        return new SchemaChanges(folder, Clock.systemDefaultZone(), null);
    }

    /**
     * {@return the change files of a folder and the database of a store}
     *
     * @param store the store
     * @param folder the folder
     */
    public static SchemaChanges of(Store store, Path folder) {
        return of(folder).on(store);
    }

    /**
     * {@return the same files and the database of a store}
     *
     * @param database the database
     */
    public SchemaChanges on(Store database) {
        return new SchemaChanges(folder, clock, database);
    }

    /**
     * {@return the change files that come with a program, in a folder beside one of its classes: {@code
     * of(Harbour.class, "changes")}} They are read, and nothing is written there.
     *
     * @param beside a class of the program
     * @param folder the folder, from the package of that class on; from the root if it begins with a slash
     * @throws BathraException when there is no such folder
     */
    public static SchemaChanges of(Class<?> beside, String folder) {
        URL found = beside.getResource(folder);
        if (found == null) {
            throw new BathraException("there is no folder '" + folder + "' beside " + beside.getName()
                    + " on the class path; begin with / to count from the root");
        }
        try {
            URI place = found.toURI();
            return place.getScheme().equals("file") ? of(Path.of(place)) : inside(place);
        } catch (URISyntaxException | IOException e) {
            throw new BathraException(found + " cannot be read: " + e, e);
        }
    }

    /** The file system of a jar, or of a native image, stays open, since others may look into it too. */
    private static SchemaChanges inside(URI place) throws IOException {
        try {
            FileSystems.newFileSystem(place, Map.of());
        } catch (FileSystemAlreadyExistsException e) {
            // somebody else has opened it
        }
        return of(Path.of(place));
    }

    /**
     * {@return the same by another clock, which gives new files their dates}
     *
     * @param newClock the clock
     */
    public SchemaChanges withClock(Clock newClock) {
        return new SchemaChanges(folder, newClock, store);
    }

    /** {@return the folder} */
    public Path folder() {
        return folder;
    }

    /**
     * {@return the files, put in order and replayed}
     *
     * @throws FaultyChange when a file says something that cannot be, or that does not fit what comes before it
     */
    public History history() {
        return History.of(files());
    }

    /**
     * {@return the files and the database of the store: what it has had, and what it is still to have}
     *
     * @throws BathraException when these are the files alone
     */
    public Evolution evolution() {
        if (store == null) {
            throw new BathraException("no database is known here; begin with SchemaChanges.of(store, folder)");
        }
        return Evolution.of(store, history());
    }

    /**
     * Applies what the database has not had.
     *
     * @return the names of the files; empty when there was nothing to do
     * @throws BathraException as {@link Evolution#apply} says
     */
    public List<String> apply() {
        return evolution().apply(ApplyTerms.ALL);
    }

    /** {@return each file, and what has become of it on the database} */
    public List<FileState> status() {
        return evolution().status();
    }

    /**
     * For the beginning of a program: looks whether the database has had all files.
     *
     * @throws BathraException when it is behind
     */
    public void require() {
        evolution().require();
    }

    private List<Change> files() {
        List<Change> changes = new ArrayList<>();
        if (!Files.isDirectory(folder)) {
            if (Files.exists(folder, LinkOption.NOFOLLOW_LINKS)) {
                throw new BathraException(folder + " is no folder; name the one that holds the change files");
            }
            return changes;
        }
        try (Stream<Path> files = Files.list(folder)) {
            files.filter(file -> file.getFileName().toString().endsWith(EXTENSION))
                    .sorted()
                    .forEach(file -> changes.add(ChangeReader.read(name(file), text(file))));
        } catch (IOException e) {
            throw new BathraException(folder + " cannot be read: " + e, e);
        }
        return changes;
    }

    private static String name(Path file) {
        String name = file.getFileName().toString();
        return name.substring(0, name.length() - EXTENSION.length());
    }

    private static String text(Path file) {
        try {
            return Files.readString(file);
        } catch (MalformedInputException e) {
            throw new FaultyChange(name(file), Tree.Place.NOWHERE, "is not written in UTF-8; save it as that");
        } catch (IOException e) {
            throw new BathraException(file + " cannot be read: " + e, e);
        }
    }

    /**
     * Drafts the next file, and writes nothing.
     *
     * @param words what it is about, which become its name behind the date
     * @param model the model
     * @param wish how it is made
     * @return the file, as far as one could be made
     * @throws BathraException when there is such a file already, or something that was wished for is not there
     */
    public Drafted draft(String words, Model model, History.Wish wish) {
        String name = LocalDate.now(clock) + "-" + slug(words);
        String next = name + "-narrowed";
        for (String one : wish.inTwoSteps() ? List.of(name, next) : List.of(name)) {
            if (Files.exists(file(one))) {
                throw new BathraException(file(one) + " is there already; take other words");
            }
        }
        return history().draft(name, next, model, wish);
    }

    /**
     * {@return what rows are to get, as a file says it: a word or text, or {@code { term: … }}, {@code { sql: … }}}
     *
     * @param attribute the attribute, by its accessor
     * @param text the text
     */
    public static Tree fill(String attribute, String text) {
        Tree value = text.strip().startsWith("{")
                ? ChangeReader.value("the fill of " + attribute, text)
                : Tree.map()
                        .put("value", new Tree.Leaf(text, isPlain(text), Tree.Place.NOWHERE))
                        .branch();
        return value;
    }

    private static boolean isPlain(String text) {
        return text.matches("-?\\d+(\\.\\d+)?") || text.equals("true") || text.equals("false");
    }

    /**
     * Writes what was drafted.
     *
     * @param drafted the draft
     * @return the files
     */
    public List<Path> write(Drafted drafted) {
        List<Path> written = new ArrayList<>();
        try {
            Files.createDirectories(folder);
            for (Change change : drafted.changes()) {
                Path file = file(change.name());
                Files.writeString(file, ChangeWriter.write(change), StandardOpenOption.CREATE_NEW);
                written.add(file);
            }
        } catch (IOException e) {
            throw new BathraException("what was drafted cannot be written: " + e, e);
        }
        return written;
    }

    /**
     * {@return what a draft's file says}
     *
     * @param change the change
     */
    public static String text(Change change) {
        return ChangeWriter.write(change);
    }

    /**
     * Puts a file behind another one that was written at the same time, if they do not touch the same thing. Nothing but
     * what it comes after is changed in it.
     *
     * @param name the one that is to come later
     * @return what it comes after now
     * @throws BathraException when both touch the same, or it comes after no file that another one comes after
     */
    public String reorder(String name) {
        Change moved = History.reorder(files(), name);
        String after = moved.after().orElseThrow();
        Path file = file(name);
        try {
            List<String> lines = new ArrayList<>(List.of(Files.readString(file).split("\n", -1)));
            int line = moved.afterPlace().line();
            if (line == 0) {
                lines.add(1, "after: " + after);
            } else {
                String old = lines.get(line - 1);
                String before = old.substring(0, moved.afterPlace().column() - 1);
                int comment = old.indexOf(" #");
                lines.set(line - 1, before + after + (comment < 0 ? "" : old.substring(comment)));
            }
            Files.writeString(file, String.join("\n", lines));
        } catch (NoSuchFileException e) {
            throw new BathraException("there is no file " + file, e);
        } catch (IOException e) {
            throw new BathraException(file + " cannot be written: " + e, e);
        }
        return after;
    }

    private Path file(String name) {
        return folder.resolve(name + EXTENSION);
    }

    /** Words as a file's name: small letters, digits, and a dash between words. */
    private static String slug(String words) {
        String slug = words.toLowerCase(Locale.ROOT)
                .replaceAll("[^\\p{L}\\p{N}]+", "-")
                .replaceAll("^-+|-+$", "");
        if (slug.isEmpty() || slug.getBytes(StandardCharsets.UTF_8).length > LONGEST_WORDS) {
            throw new BathraException("'" + words
                    + "' makes no name for a file; say in a few words what changes, such as" + " berth depths");
        }
        return slug;
    }

    /**
     * {@return what was renamed, as {@code Pilot.phone=mobile}}
     *
     * @param text the text
     */
    public static Map.Entry<String, String> renamed(String text) {
        int equals = text.indexOf('=');
        if (equals < 1 || equals == text.length() - 1) {
            throw new BathraException("'" + text + "' says no new name; write Pilot.phone=mobile");
        }
        return Map.entry(
                text.substring(0, equals).strip(), text.substring(equals + 1).strip());
    }
}
