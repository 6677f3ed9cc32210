package io.bathra.cli.session;

import io.bathra.cli.session.Printed.Look;
import io.bathra.cli.session.Session.Next;
import io.bathra.error.BathraException;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.Objects;

/** The commands of a session that read or write files. */
final class FileCommands {
    private final Session session;

    /** How many files are being run, one within the other. */
    private int depth;

    FileCommands(Session session) {
        this.session = session;
    }

    private Next fail(String message) {
        session.screen().print(Printed.of(Look.BAD, message));
        return Next.FAILED;
    }

    private Next say(String text) {
        session.screen().print(Printed.of(Look.FAINT, text));
        return Next.GO_ON;
    }

    private static Path file(String name, String text) {
        if (text.isEmpty()) {
            throw new BathraException(name + " takes a file");
        }
        try {
            return Path.of(text);
        } catch (InvalidPathException e) {
            throw new BathraException(name + ": '" + text + "' is no name of a file: " + e.getReason(), e);
        }
    }

    Next run(String text) {
        Path file = file(":run", text);
        if (depth > 0) {
            return fail(file + " is not run: a file that is run runs no other one");
        }
        depth++;
        try {
            Script.Stop stop = Script.of(file).run(session);
            return stop == null ? Next.GO_ON : fail(file + ": " + stop.words());
        } finally {
            depth--;
        }
    }

    Next keep(String text) {
        Path file = file(":keep", text);
        if (Files.exists(file)) {
            return fail(file + " is there already; name another file");
        }
        try {
            Files.writeString(file, String.join("\n", session.kept()) + "\n", StandardCharsets.UTF_8);
        } catch (IOException e) {
            return fail(file + " cannot be written: " + e);
        }
        return say(Words.count(session.kept().size(), "entry") + " written to " + file + "; bathra try --run " + file);
    }

    Next page(String text) {
        Path file = file(":page", text);
        try {
            session.recording().page("A session with " + session.model().name()).write(file);
        } catch (UncheckedIOException e) {
            return fail(Objects.requireNonNullElse(e.getMessage(), "the page cannot be written"));
        }
        return say("written to " + file);
    }
}
