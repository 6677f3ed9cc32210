package io.bathra.testing;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.error.ConstraintViolation;
import io.bathra.error.InvalidChangesException;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.lang.reflect.Field;
import java.nio.charset.StandardCharsets;
import java.sql.SQLException;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** All that a program says while it works: what it prints, throws and logs, down to the finest level. */
public final class Overheard implements AutoCloseable {
    private static final List<String> LOGGERS = List.of("io.bathra", "io.bathra.sql");
    private static final int TRACE = 0;
    private static final int WARN = 30;

    private final StringBuilder said = new StringBuilder();
    private final ByteArrayOutputStream log = new ByteArrayOutputStream();
    private final PrintStream before = System.err;

    public Overheard() {
        System.setErr(new PrintStream(log, true, StandardCharsets.UTF_8));
        LOGGERS.forEach(name -> level(name, TRACE));
    }

    private static void level(String name, int level) {
        Logger logger = LoggerFactory.getLogger(name);
        try {
            Field current = logger.getClass().getDeclaredField("currentLogLevel");
            current.setAccessible(true);
            current.setInt(logger, level);
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException("the logger is another one now", e);
        }
    }

    /** Takes what something says of itself. */
    public void of(Object told) {
        said.append(told).append('\n');
    }

    /** Takes all that an exception says: those behind it, beside it and next to it too, and what is in it. */
    public void of(Throwable thrown) {
        StringWriter text = new StringWriter();
        thrown.printStackTrace(new PrintWriter(text, true));
        said.append(text);
        for (Throwable e = thrown; e != null; e = e.getCause()) {
            if (e instanceof SQLException sql && sql.getNextException() != null) {
                of(sql.getNextException());
            } else if (e instanceof InvalidChangesException invalid) {
                invalid.problems().forEach(this::of);
                invalid.problems().forEach(problem -> of(String.valueOf(problem.value())));
            } else if (e instanceof ConstraintViolation violation) {
                of(String.valueOf(violation.place().value()));
            }
        }
    }

    /** Everything so far. */
    public String text() {
        return said + log.toString(StandardCharsets.UTF_8);
    }

    /** Makes sure that words stand in nothing that was said, and that something was logged at all. */
    public void assertSilentAbout(List<String> secrets) {
        assertThat(log.size()).as("what was logged").isPositive();
        for (String secret : secrets) {
            assertThat(text().lines().filter(line -> line.contains(secret)))
                    .as("lines with " + secret)
                    .isEmpty();
        }
    }

    @Override
    public void close() {
        System.setErr(before);
        LOGGERS.forEach(name -> level(name, WARN));
    }
}
