package io.bathra.cli.load;

import io.bathra.error.BathraException;
import java.io.BufferedInputStream;
import java.io.BufferedReader;
import java.io.FileInputStream;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashSet;
import java.util.Iterator;
import java.util.List;
import java.util.NoSuchElementException;
import java.util.Objects;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.jspecify.annotations.Nullable;

/**
 * A CSV file in UTF-8 with a header, read line by line. A value may have line breaks, so a line is told by where it
 * begins.
 */
public final class LineFile implements AutoCloseable {
    private static final int MARK = 0xFEFF; // some programs write it in front of UTF-8

    private final String name;
    private final Counted input;
    private final CSVParser parser;
    private final Iterator<CSVRecord> records;
    private final List<String> header;
    private long start = 1;
    private @Nullable Line ahead;

    /**
     * A line.
     *
     * @param number where it begins in the file, counted from 1
     * @param values as many as there are
     */
    public record Line(long number, List<String> values) {}

    /** Counts what was read, to tell how far a reader has come. */
    private static final class Counted extends FilterInputStream {
        private long bytes;

        Counted(InputStream in) {
            super(in);
        }

        @Override
        public int read() throws IOException {
            int read = super.read();
            bytes += read < 0 ? 0 : 1;
            return read;
        }

        @Override
        public int read(byte[] buffer, int offset, int length) throws IOException {
            int read = super.read(buffer, offset, length);
            bytes += Math.max(read, 0);
            return read;
        }
    }

    private LineFile(String name, InputStream stream, char separator) throws IOException {
        this.name = name;
        this.input = new Counted(stream);
        BufferedReader reader = new BufferedReader(
                new InputStreamReader(
                        new BufferedInputStream(input, 1 << 16),
                        StandardCharsets.UTF_8.newDecoder().onMalformedInput(CodingErrorAction.REPORT)),
                1 << 16);
        reader.mark(1);
        if (reader.read() != MARK) {
            reader.reset();
        }
        this.parser = CSVFormat.DEFAULT
                .builder()
                .setDelimiter(separator)
                .setIgnoreEmptyLines(false) // they count, though nothing is in them
                .get()
                .parse(reader);
        this.records = parser.iterator();
        Line first = read();
        if (first == null) {
            throw new BathraException(name + " is empty; its first line has to name the columns");
        }
        header = List.copyOf(first.values());
        Set<String> seen = new HashSet<>();
        for (String column : header) {
            if (column.isBlank()) {
                throw new BathraException(name + ", line 1: a column has no name; give it one");
            }
            if (!seen.add(column)) {
                throw new BathraException(
                        name + ", line 1: the column '" + column + "' is there twice; rename or remove one");
            }
        }
    }

    /**
     * Opens a file, or standard input for {@code -}. What it gives is read once.
     *
     * @param separator what stands between two values
     * @throws BathraException when there is no such file, or its header is no header
     */
    public static LineFile open(Path file, char separator) {
        try {
            return isStandardInput(file)
                    ? new LineFile("standard input", System.in, separator)
                    : new LineFile(String.valueOf(file.getFileName()), stream(file), separator);
        } catch (NoSuchFileException e) {
            throw new BathraException("there is no file " + file, e);
        } catch (IOException | UncheckedIOException e) {
            throw unreadable(file.toString(), 1, e);
        }
    }

    /** A channel asks for its position, which a pipe has not. */
    private static InputStream stream(Path file) throws IOException {
        boolean pipe = Files.exists(file) && !Files.isRegularFile(file) && !Files.isDirectory(file);
        return pipe ? new FileInputStream(file.toFile()) : Files.newInputStream(file);
    }

    /** Whether a name stands for standard input. */
    public static boolean isStandardInput(Path file) {
        return file.toString().equals("-");
    }

    private static BathraException unreadable(String name, long line, Exception e) {
        Throwable cause = e instanceof UncheckedIOException && e.getCause() != null ? e.getCause() : e;
        return new BathraException(
                name + ", line " + line + " or soon after: "
                        + (cause instanceof CharacterCodingException
                                ? "is not in UTF-8; convert the file"
                                : "cannot be read: " + cause.getMessage()),
                e);
    }

    /** The file's name without its folder. */
    public String name() {
        return name;
    }

    /** The names of the columns. */
    public List<String> header() {
        return header;
    }

    /** How many bytes were read so far. */
    public long bytes() {
        return input.bytes;
    }

    /** Whether there is another line. */
    public boolean hasNext() {
        if (ahead == null) {
            ahead = read();
        }
        return ahead != null;
    }

    /**
     * The next line.
     *
     * @throws NoSuchElementException when there is none
     */
    public Line next() {
        if (!hasNext()) {
            throw new NoSuchElementException(name + " has no more lines");
        }
        Line line = Objects.requireNonNull(ahead);
        ahead = null;
        return line;
    }

    /** The next line that is not empty; null at the end. */
    private @Nullable Line read() {
        try {
            while (records.hasNext()) {
                long number = start;
                List<String> values = Arrays.asList(records.next().values());
                start = parser.getCurrentLineNumber() + 1;
                if (values.size() > 1 || !values.get(0).isBlank()) {
                    return new Line(number, values);
                }
            }
            return null;
        } catch (UncheckedIOException | IllegalStateException e) {
            throw unreadable(name, start, e);
        }
    }

    @Override
    public void close() {
        try {
            parser.close();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
