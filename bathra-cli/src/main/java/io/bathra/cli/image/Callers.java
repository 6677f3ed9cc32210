package io.bathra.cli.image;

import io.bathra.error.BathraException;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Collections;
import java.util.List;
import java.util.Set;
import java.util.SortedSet;
import java.util.TreeSet;
import java.util.stream.Stream;

/** Those who call Bathra, found in classes that are read and not loaded. */
final class Callers {
    private static final String OURS = "io/bathra/";
    private static final String EXAMPLES = "io/bathra/examples/";
    private static final String REFERENCE = "io/bathra/attr/Attr";
    /** The compiler adds it to each class that has lambdas which can be serialized, as references to attributes can. */
    private static final String BACK = "$deserializeLambda$";

    private final SortedSet<String> referring = new TreeSet<>();
    private final SortedSet<String> records = new TreeSet<>();
    private final SortedSet<String> named = new TreeSet<>();

    private Callers() {}

    /**
     * Looks at all classes of some jars and folders.
     *
     * @throws BathraException when one cannot be read
     */
    static Callers in(List<Path> places) {
        Callers callers = new Callers();
        for (Path place : places) {
            try {
                if (Files.isDirectory(place)) {
                    callers.read(place);
                } else {
                    try (FileSystem jar = FileSystems.newFileSystem(place)) {
                        for (Path root : jar.getRootDirectories()) {
                            callers.read(root);
                        }
                    }
                }
            } catch (IOException | UncheckedIOException e) {
                throw new BathraException(place + " cannot be read: " + e.getMessage(), e);
            }
        }
        callers.records.retainAll(callers.named);
        return callers;
    }

    /** Classes with references to attributes, such as {@code Vessel::name}. */
    Set<String> referring() {
        return Collections.unmodifiableSet(referring);
    }

    /** Records that are named where Bathra is called: as rows, parameters or keys. */
    Set<String> records() {
        return Collections.unmodifiableSet(records);
    }

    private void read(Path root) throws IOException {
        try (Stream<Path> files = Files.walk(root)) {
            for (Path file : (Iterable<Path>) files::iterator) {
                String name = file.toString();
                if (!name.endsWith(".class") || name.endsWith("module-info.class")) {
                    continue;
                }
                try (InputStream in = new BufferedInputStream(Files.newInputStream(file))) {
                    look(CompiledClass.read(in));
                } catch (IOException e) {
                    throw new IOException(file + ": " + e.getMessage(), e);
                }
            }
        }
    }

    private void look(CompiledClass one) {
        if (isOurs(one.name())) {
            return; // our own classes bring along what has to be known of them
        }
        if (one.isRecord()) {
            records.add(dotted(one.name()));
        }
        if (one.texts().contains(BACK) && one.texts().contains(REFERENCE)) {
            referring.add(dotted(one.name()));
        }
        if (one.classes().stream().anyMatch(Callers::isOurs)) {
            one.classes().forEach(name -> named.add(dotted(name)));
        }
    }

    private static boolean isOurs(String name) {
        return name.startsWith(OURS) && !name.startsWith(EXAMPLES);
    }

    private static String dotted(String name) {
        return name.replace('/', '.');
    }
}
