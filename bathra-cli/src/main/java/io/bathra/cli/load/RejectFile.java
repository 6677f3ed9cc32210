package io.bathra.cli.load;

import io.bathra.attr.Secret;
import io.bathra.cli.load.LineFile.Line;
import io.bathra.error.BathraException;
import java.io.IOException;
import java.io.InputStream;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.jspecify.annotations.Nullable;

/**
 * The lines that were rejected, each with its number, the column and the reason in front: columns that begin with
 * {@code #}, which loading passes over, so the file can be mended and loaded as it is. Secret values are left out; they
 * have to be filled in again. It gets its name when all is done, and never that of something else: it takes the place
 * of an earlier file of rejected lines alone, unless it may overwrite any file.
 */
final class RejectFile implements AutoCloseable {
    /** What stands for a value that is secret. */
    static final String SECRET = String.valueOf(Secret.of(""));

    private static final List<String> NOTES = List.of("#line", "#column", "#reason");
    private static final Pattern OWN = Pattern.compile("\"?#line\"?.\"?#column\"?.\"?#reason");

    private final Path file;
    private final Path part;
    private final boolean overwriting;
    private final List<String> header;
    private final List<Integer> kept = new ArrayList<>();
    private final Set<Integer> secrets;
    private final char separator;
    private @Nullable CSVPrinter printer;
    private long lines;

    /**
     * @param overwriting whether it may take the place of any file
     * @param secrets the places of columns whose values are left out
     */
    RejectFile(Path file, boolean overwriting, List<String> header, Set<Integer> secrets, char separator) {
        this.file = file;
        this.overwriting = overwriting;
        this.part = file.resolveSibling(
                file.getFileName() + "." + ProcessHandle.current().pid() + ".part");
        this.header = header;
        this.secrets = secrets;
        this.separator = separator;
        for (int i = 0; i < header.size(); i++) {
            if (!NOTES.contains(header.get(i))) {
                kept.add(i);
            }
        }
    }

    /**
     * Refuses a place where something else is.
     *
     * @param overwriting whether any file may be overwritten
     * @throws BathraException when it may not be written there
     */
    static void refuseOther(Path file, boolean overwriting) {
        if (Files.notExists(file, LinkOption.NOFOLLOW_LINKS)) {
            return;
        }
        if (!Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)) {
            throw new BathraException("rejected lines are not written to " + file + ", which is no file (a link, a"
                    + " folder or a device); name another one by --rejects");
        }
        if (!overwriting && !isOwn(file)) {
            throw new BathraException("rejected lines would be written over " + file + ", which holds something else;"
                    + " name another file by --rejects, or say --overwrite");
        }
    }

    /** Whether a file holds rejected lines, or nothing. */
    private static boolean isOwn(Path file) {
        try (InputStream in = Files.newInputStream(file)) {
            String start = new String(in.readNBytes(64), StandardCharsets.UTF_8);
            return start.isEmpty() || OWN.matcher(start).lookingAt();
        } catch (IOException e) {
            throw new BathraException(
                    file + " cannot be read, so that rejected lines are not written over it: " + e, e);
        }
    }

    void add(Line line, String column, String reason) {
        try {
            CSVPrinter open = printer == null ? open() : printer;
            List<Object> values = new ArrayList<>(List.of(line.number(), column, reason));
            for (int index = 0; index < Math.max(line.values().size(), header.size()); index++) {
                if (index >= header.size() || kept.contains(index)) {
                    values.add(
                            index < line.values().size()
                                    ? shown(index, line.values().get(index))
                                    : "");
                }
            }
            open.printRecord(values);
            lines++;
        } catch (IOException e) {
            throw unwritable(e);
        }
    }

    private String shown(int index, String value) {
        return secrets.contains(index) && !value.isEmpty() ? SECRET : value;
    }

    private CSVPrinter open() throws IOException {
        Writer writer = Files.newBufferedWriter(part, StandardCharsets.UTF_8, StandardOpenOption.CREATE_NEW);
        CSVPrinter open = new CSVPrinter(
                writer,
                CSVFormat.DEFAULT
                        .builder()
                        .setDelimiter(separator)
                        .setRecordSeparator("\n")
                        .get());
        printer = open;
        List<Object> columns = new ArrayList<>(NOTES);
        kept.forEach(index -> columns.add(header.get(index)));
        open.printRecord(columns);
        return open;
    }

    private BathraException unwritable(IOException e) {
        return new BathraException(
                "rejected lines cannot be written to " + file + ": " + e + "; name another file by --rejects", e);
    }

    /** How many lines it has. */
    long lines() {
        return lines;
    }

    /**
     * Gives it its name; null when no line was rejected.
     *
     * @throws BathraException when it cannot have it; the lines are kept under another one, which is told
     */
    @Nullable
    Path finish() {
        if (printer == null) {
            return null;
        }
        try {
            printer.close();
            printer = null;
            refuseOther(file, overwriting);
            Files.move(part, file, StandardCopyOption.REPLACE_EXISTING);
            return file;
        } catch (IOException | BathraException e) {
            throw new BathraException(
                    "the rejected lines are in " + part + ", since "
                            + (e instanceof BathraException
                                    ? e.getMessage()
                                    : "they cannot be moved to " + file + ": " + e),
                    e);
        }
    }

    /** Removes what was not finished. */
    @Override
    public void close() {
        try {
            if (printer != null) {
                printer.close();
                Files.deleteIfExists(part);
            }
        } catch (IOException e) {
            throw unwritable(e);
        }
    }
}
