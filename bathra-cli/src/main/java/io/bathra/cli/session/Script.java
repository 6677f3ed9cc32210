package io.bathra.cli.session;

import io.bathra.cli.session.Printed.Look;
import io.bathra.cli.session.Session.Next;
import io.bathra.error.BathraException;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Entries from a file or a pipe, each shown before it is executed, up to the end or to the first that fails. */
final class Script {
    private final List<String> lines;

    private Script(List<String> lines) {
        this.lines = lines;
    }

    static Script of(Path file) {
        try {
            return new Script(Files.readAllLines(file));
        } catch (IOException e) {
            throw new BathraException(
                    Files.exists(file) ? file + " cannot be read: " + e : "there is no file " + file.toAbsolutePath(),
                    e);
        }
    }

    static Script of(BufferedReader reader) {
        try (reader) {
            return new Script(reader.lines().toList());
        } catch (IOException | UncheckedIOException e) {
            throw new BathraException("the input cannot be read: " + e, e);
        }
    }

    /**
     * Why it did not come to its end.
     *
     * @param line where the entry begins, from 1
     * @param unfinished whether the entry itself has no end
     */
    record Stop(int line, boolean unfinished) {
        String words() {
            return unfinished
                    ? "unfinished: the entry that begins at line " + line + " has no end"
                    : "stopped at line " + line;
        }
    }

    /** Runs it; null when it came to its end. */
    @Nullable
    Stop run(Session session) {
        StringBuilder entry = new StringBuilder();
        int begun = 0;
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i);
            boolean first = entry.isEmpty();
            if (first && line.isBlank()) {
                continue;
            }
            begun = first ? i + 1 : begun;
            entry.append(first ? "" : "\n").append(line);
            session.screen()
                    .print(Printed.of(Look.HEAD, (first ? "> " : "| ") + Cells.safe(line.replace("\t", "    "))));
            if (isUnfinished(session, entry.toString())) {
                continue;
            }
            Next next = session.enter(entry.toString());
            if (next == Next.FAILED) {
                return new Stop(begun, false);
            } else if (next == Next.QUIT) {
                return null;
            }
            entry.setLength(0);
        }
        return entry.isEmpty() ? null : new Stop(begun, true);
    }

    private static boolean isUnfinished(Session session, String entry) {
        return !entry.strip().startsWith(":") && session.java().isUnfinished(entry);
    }
}
