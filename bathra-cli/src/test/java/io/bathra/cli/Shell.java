package io.bathra.cli;

import java.io.PrintWriter;
import java.io.StringWriter;

/** Runs the tool as a shell would: arguments in; standard output, standard error and exit code out. */
final class Shell {
    private final StringWriter out = new StringWriter();
    private final StringWriter err = new StringWriter();

    int bathra(Object... args) {
        out.getBuffer().setLength(0);
        err.getBuffer().setLength(0);
        String[] words = new String[args.length];
        for (int i = 0; i < words.length; i++) {
            words[i] = String.valueOf(args[i]);
        }
        return Bathra.run(new PrintWriter(out, true), new PrintWriter(err, true), words);
    }

    String out() {
        return out.toString();
    }

    String err() {
        return err.toString();
    }
}
