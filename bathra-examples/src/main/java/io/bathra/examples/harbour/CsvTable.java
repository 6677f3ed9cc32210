package io.bathra.examples.harbour;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Consumer;
import java.util.function.Function;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.jspecify.annotations.Nullable;

/** One CSV file with a header line, read line by line, with errors that say where. */
final class CsvTable {
    private static final CSVFormat FORMAT =
            CSVFormat.DEFAULT.builder().setHeader().setSkipHeaderRecord(true).get();

    private final String file;
    private final List<String> columns;

    CsvTable(String file, String... columns) {
        this.file = file;
        this.columns = List.of(columns);
    }

    /** One line, and the way to its values. */
    final class Line {
        private final CSVRecord fields;
        private final long number;

        private Line(CSVRecord fields, long number) {
            this.fields = fields;
            this.number = number;
        }

        /** A value that must be there. */
        String text(String column) {
            String value = fields.get(column);
            if (value.isEmpty()) {
                throw bad(column + " is empty, but every line needs one");
            }
            return value;
        }

        /** A value that may be missing. */
        @Nullable
        String optional(String column) {
            String value = fields.get(column);
            return value.isEmpty() ? null : value;
        }

        <T> T value(String column, Function<String, T> parse, String expected) {
            return parsed(column, text(column), parse, expected);
        }

        <T> @Nullable T optional(String column, Function<String, T> parse, String expected) {
            String value = optional(column);
            return value == null ? null : parsed(column, value, parse, expected);
        }

        <C extends Enum<C>> C constant(String column, Class<C> type) {
            return value(column, text -> Enum.valueOf(type, text), "one of " + Arrays.asList(type.getEnumConstants()));
        }

        /** The object of another file with this code. */
        <T> T known(String column, Map<String, T> objects, String otherFile) {
            String code = text(column);
            T found = objects.get(code);
            if (found == null) {
                throw bad(column + " '" + code + "' is not in " + otherFile);
            }
            return found;
        }

        /** Keeps an object by its code, which no other line may have. */
        <T> void keep(Map<String, T> objects, String column, T object) {
            if (objects.putIfAbsent(text(column), object) != null) {
                throw bad(column + " '" + text(column) + "' stands in an earlier line already");
            }
        }

        private <T> T parsed(String column, String value, Function<String, T> parse, String expected) {
            try {
                return parse.apply(value);
            } catch (RuntimeException e) {
                throw bad(column + " '" + value + "' is not " + expected);
            }
        }

        BadLineException bad(String reason) {
            return new BadLineException(file, number, reason);
        }
    }

    /**
     * Hands over each line.
     *
     * @param folder where the file lies; null for the data that comes with the examples
     * @return the number of lines after the header
     */
    int read(@Nullable Path folder, Consumer<Line> consumer) {
        try (Reader reader = open(folder);
                CSVParser parser = FORMAT.parse(reader)) {
            if (!parser.getHeaderNames().equals(columns)) {
                throw new BadLineException(
                        file, 1, "the columns are " + parser.getHeaderNames() + ", but should be " + columns);
            }
            int lines = 0;
            long start = 2;
            for (CSVRecord fields : parser) {
                if (fields.size() != columns.size()) {
                    throw new BadLineException(
                            file, start, "it has " + fields.size() + " values, but should have " + columns.size());
                }
                consumer.accept(new Line(fields, start));
                start = parser.getCurrentLineNumber() + 1;
                lines++;
            }
            return lines;
        } catch (NoSuchFileException e) {
            throw new BadLineException(file, "there is no such file in " + folder);
        } catch (IOException | UncheckedIOException e) {
            throw new BadLineException(file, "it cannot be read: " + e.getMessage());
        }
    }

    private Reader open(@Nullable Path folder) throws IOException {
        if (folder != null) {
            return Files.newBufferedReader(folder.resolve(file), StandardCharsets.UTF_8);
        }
        return new BufferedReader(new InputStreamReader(
                Objects.requireNonNull(CsvTable.class.getResourceAsStream(file)), StandardCharsets.UTF_8));
    }
}
