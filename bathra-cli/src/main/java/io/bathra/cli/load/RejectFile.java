package io.bathra.cli.load;

import io.bathra.attr.Secret;
import io.bathra.cli.load.LineFile.Line;
import io.bathra.error.BathraException;
import java.io.IOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.jspecify.annotations.Nullable;

/**
 * The lines that were rejected, each with its number, the column and the reason in front: columns that begin with
 * {@code #}, which loading passes over, so the file can be mended and loaded as it is. Secret values are left out; they
 * have to be filled in again. It gets its name when all is done.
 */
final class RejectFile implements AutoCloseable {
    /** What stands for a value that is secret. */
    static final String SECRET = String.valueOf(Secret.of(""));

    private static final List<String> NOTES = List.of("#line", "#column", "#reason");

    private final Path file;
    private final Path part;
    private final List<String> header;
    private final List<Integer> kept = new ArrayList<>();
    private final Set<Integer> secrets;
    private final char separator;
    private @Nullable CSVPrinter printer;
    private long lines;

    /**
     * @param secrets the places of columns whose values are left out
     */
    RejectFile(Path file, List<String> header, Set<Integer> secrets, char separator) {
        this.file = file;
        this.part = file.resolveSibling(file.getFileName() + ".part");
        this.header = header;
        this.secrets = secrets;
        this.separator = separator;
        for (int i = 0; i < header.size(); i++) {
            if (!NOTES.contains(header.get(i))) {
                kept.add(i);
            }
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
        Writer writer = Files.newBufferedWriter(part, StandardCharsets.UTF_8);
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

    /** Gives it its name; null when no line was rejected. */
    @Nullable
    Path finish() {
        if (printer == null) {
            return null;
        }
        try {
            printer.close();
            printer = null;
            Files.move(part, file, StandardCopyOption.REPLACE_EXISTING);
            return file;
        } catch (IOException e) {
            throw unwritable(e);
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
