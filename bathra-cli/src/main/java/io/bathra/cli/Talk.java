package io.bathra.cli;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import java.io.Console;
import java.io.PrintWriter;
import picocli.CommandLine.Help.Ansi;
import picocli.CommandLine.Model.CommandSpec;

/** How a command speaks: results to standard output, everything else to standard error. */
final class Talk {
    private static final ObjectMapper JSON = new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

    private final CommandSpec spec;

    Talk(CommandSpec spec) {
        this.spec = spec;
    }

    /** For results. */
    PrintWriter out() {
        return spec.commandLine().getOut();
    }

    /** For everything else. */
    PrintWriter err() {
        return spec.commandLine().getErr();
    }

    /** A result as JSON. */
    void json(Object value) {
        try {
            out().println(JSON.writeValueAsString(value));
        } catch (JsonProcessingException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Whether a person sits before a terminal. */
    static boolean isTerminal() {
        Console console = System.console();
        if (console == null) {
            return false;
        }
        try {
            return (boolean) Console.class.getMethod("isTerminal").invoke(console);
        } catch (ReflectiveOperationException e) {
            return true; // up to JDK 21 there is a console at a terminal only
        }
    }

    /** Colours only for a terminal, and not where NO_COLOR is set. */
    static Ansi ansi() {
        return isTerminal() && System.getenv("NO_COLOR") == null ? Ansi.ON : Ansi.OFF;
    }
}
