package io.bathra.cli.session;

import java.util.ArrayList;
import java.util.List;
import jdk.jshell.EvalException;
import org.jspecify.annotations.Nullable;

/** The way of a failure, as far as it leads through entries, the model and the library. */
final class Stacks {
    private Stacks() {}

    /** With the lines of entries, which the shell knows. */
    static String of(Throwable failure, EvalException told) {
        List<String> lines = new ArrayList<>();
        @Nullable Throwable one = failure;
        @Nullable Throwable withLines = told;
        while (one != null) {
            lines.add((lines.isEmpty() ? "" : "caused by ") + one);
            frames(lines, withLines == null ? one.getStackTrace() : withLines.getStackTrace());
            withLines = withLines == null ? null : withLines.getCause();
            one = one.getCause();
        }
        return String.join("\n", lines);
    }

    static String of(Throwable failure) {
        List<String> lines = new ArrayList<>();
        for (@Nullable Throwable one = failure; one != null; one = one.getCause()) {
            lines.add((lines.isEmpty() ? "" : "caused by ") + one);
            frames(lines, one.getStackTrace());
        }
        return String.join("\n", lines);
    }

    private static void frames(List<String> lines, StackTraceElement[] frames) {
        for (StackTraceElement frame : frames) {
            String file = frame.getFileName();
            if (file != null && file.startsWith("#")) {
                boolean called = !frame.getMethodName().startsWith("do_it$");
                lines.add("  at " + (called ? frame.getMethodName() + ", " : "") + "the entry's line "
                        + frame.getLineNumber());
                if (!called) {
                    return;
                }
            } else if (frame.getClassName().startsWith(SnippetControl.class.getName())) {
                return;
            } else if (!frame.getClassName().startsWith("jdk.internal.reflect.")
                    && !frame.getClassName().startsWith("java.lang.reflect.")) {
                lines.add("  at " + frame);
            }
        }
    }
}
