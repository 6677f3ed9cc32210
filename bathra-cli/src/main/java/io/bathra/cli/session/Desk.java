package io.bathra.cli.session;

import io.bathra.Store;
import io.bathra.error.BathraException;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A model and a store, for whoever sits down with them: a person at a terminal, or a script.
 *
 * @param store on which all is done
 * @param forsaking has connections of now not lent again
 * @param place the database in words
 * @param classPath where the classes of the model are
 * @param loader that has loaded them
 * @param writing whether it begins with writing
 */
public record Desk(
        Store store, Runnable forsaking, String place, List<Path> classPath, ClassLoader loader, boolean writing) {
    private static final int SCRIPT_WIDTH = 120;

    /** How a session has ended. */
    public enum End {
        DONE,
        /** An entry has failed. */
        STOPPED,
        /** The input ends within an entry. */
        UNFINISHED,
        /** What was not committed is lost. */
        LOST
    }

    private Session session(JavaEntries java, ModelWords words, Screen screen) {
        Session session = new Session(store, forsaking, words, java, screen);
        if (writing) {
            session.unit().write(true);
        }
        return session;
    }

    /**
     * Executes entries one after the other, up to the first that fails.
     *
     * @param file null for what comes through the pipe
     * @param out where results go, each after its entry
     * @param err where it is told why it did not come to its end
     */
    public End script(@Nullable Path file, BufferedReader pipe, PrintWriter out, PrintWriter err) {
        Script script = file == null ? Script.of(pipe) : Script.of(file);
        Screen screen = new Screen() {
            @Override
            public void print(Printed printed) {
                printed.lines().forEach(line -> out.println(line.text()));
                out.flush();
            }

            @Override
            public int width() {
                return SCRIPT_WIDTH;
            }
        };
        ModelWords words = new ModelWords(store.model());
        JavaEntries java = new JavaEntries(classPath, loader, words);
        try (Session session = session(java, words, screen)) {
            Script.Stop stop = script.run(session);
            String lost = session.unit().atStake();
            if (lost != null) {
                err.println("bathra: not stored: " + lost + "; :commit stores");
            }
            if (stop == null) {
                return lost == null ? End.DONE : End.LOST;
            }
            err.println("bathra: " + (file == null ? "" : file + ": ") + stop.words());
            return stop.unfinished() ? End.UNFINISHED : End.STOPPED;
        }
    }

    /** Talks with a person at the terminal of this program. */
    public End terminal(Map<String, String> environment) {
        ModelWords words = new ModelWords(store.model());
        JavaEntries java = new JavaEntries(classPath, loader, words);
        try (Console console = new Console(environment);
                Session session = session(java, words, console)) {
            console.print(session.greeting(place));
            console.talk(session, environment);
            return End.DONE;
        } catch (IOException e) {
            throw new BathraException("the terminal cannot be used: " + e, e);
        }
    }
}
