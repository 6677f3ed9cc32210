package io.bathra.cli.session;

import io.bathra.cli.session.Printed.Line;
import io.bathra.cli.session.Printed.Look;
import io.bathra.cli.session.Session.Next;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.jline.reader.Candidate;
import org.jline.reader.EndOfFileException;
import org.jline.reader.LineReader;
import org.jline.reader.LineReader.Option;
import org.jline.reader.LineReaderBuilder;
import org.jline.reader.UserInterruptException;
import org.jline.terminal.Terminal;
import org.jline.terminal.Terminal.Signal;
import org.jline.terminal.TerminalBuilder;
import org.jline.utils.AttributedString;
import org.jline.utils.AttributedStringBuilder;
import org.jline.utils.AttributedStyle;
import org.jline.utils.NonBlockingReader;

/** A person at a terminal. */
final class Console implements Screen, AutoCloseable {
    private static final int CTRL_C = 3;

    /** A terminal far away takes its time to say what it can do, and what it says later would be taken for typed. */
    private static final String PROBE_MILLIS = "org.jline.terminal.probe.timeout";

    /** Ctrl-C at the prompt is a character; raised as a signal as well, it would be heard twice. */
    private static final String SIGNALS_FROM_CHARACTERS = "org.jline.terminal.softwareSignals";

    /** A thread of the reader's fetches what is typed, and on a busy machine takes its time to begin. */
    private static final long FETCH_MILLIS = 2_000;

    private static final int USUAL_WIDTH = 80;

    /** Halfway between black and white, among 256 colours. */
    private static final int GREY = 244;

    private static final Duration OLD = Duration.ofMinutes(5);
    private static final long LOOK_SECONDS = 30;

    private final Terminal terminal;
    private final boolean colours;
    private long warned = System.nanoTime() - OLD.toNanos();

    /**
     * @param environment of the program
     */
    Console(Map<String, String> environment) throws IOException {
        unlessSet(PROBE_MILLIS, "2000");
        unlessSet(SIGNALS_FROM_CHARACTERS, "false");
        terminal = TerminalBuilder.builder()
                .name("bathra")
                .system(true)
                .dumb(true)
                .encoding(StandardCharsets.UTF_8)
                .build();
        colours = environment.get("NO_COLOR") == null && !terminal.getType().startsWith("dumb");
    }

    private static void unlessSet(String property, String value) {
        if (System.getProperty(property) == null) {
            System.setProperty(property, value);
        }
    }

    @Override
    public void print(Printed printed) {
        for (Line line : printed.lines()) {
            terminal.writer().println(styled(line.text(), line.look()));
        }
        terminal.flush();
    }

    private String styled(String text, Look look) {
        return colours ? new AttributedString(text, style(look)).toAnsi(terminal) : text;
    }

    /** Colours that can be read on a light ground as well as on a dark one. */
    private static AttributedStyle style(Look look) {
        return switch (look) {
            case PLAIN -> AttributedStyle.DEFAULT;
            case HEAD -> AttributedStyle.BOLD;
            case FAINT -> AttributedStyle.DEFAULT.foreground(GREY);
            case BAD -> AttributedStyle.DEFAULT.foreground(AttributedStyle.RED);
            case NOTE -> AttributedStyle.DEFAULT.foreground(AttributedStyle.MAGENTA);
        };
    }

    @Override
    public int width() {
        int columns = terminal.getColumns();
        return columns > 0 ? columns : USUAL_WIDTH;
    }

    /** Reads and executes entries until their user has enough. */
    void talk(Session session, Map<String, String> environment) throws IOException {
        LineReader reader = reader(session, environment);
        terminal.handle(Signal.INT, signal -> {
            Thread stopping = new Thread(session::stop, "stopping");
            stopping.setDaemon(true);
            stopping.start();
        });
        ScheduledExecutorService looking = Executors.newSingleThreadScheduledExecutor(task -> {
            Thread thread = new Thread(task, "transaction-age");
            thread.setDaemon(true);
            return thread;
        });
        Future<?> look = looking.scheduleWithFixedDelay(
                () -> warn(session, reader), LOOK_SECONDS, LOOK_SECONDS, TimeUnit.SECONDS);
        try {
            while (goesOn(session, reader)) {}
        } finally {
            look.cancel(true);
            looking.shutdownNow();
        }
    }

    private LineReader reader(Session session, Map<String, String> environment) throws IOException {
        Completion completion = new Completion(session);
        return LineReaderBuilder.builder()
                .terminal(terminal)
                .appName("bathra")
                .parser(new EntryParser(session.java()))
                .completer((reader, line, candidates) ->
                        completion.at(line.line(), line.cursor()).forEach(way -> candidates.add(candidate(way))))
                .history(new Remembered())
                .variable(LineReader.HISTORY_FILE, Remembered.file(environment))
                .variable(LineReader.SECONDARY_PROMPT_PATTERN, "%P | ")
                .variable(LineReader.LIST_MAX, 200)
                .option(Option.DISABLE_EVENT_EXPANSION, true)
                .option(Option.HISTORY_IGNORE_SPACE, true)
                .option(Option.INSERT_TAB, false)
                .option(Option.AUTO_FRESH_LINE, true)
                .build();
    }

    private static Candidate candidate(Completion.Way way) {
        return new Candidate(
                way.value(),
                way.shown(),
                null,
                way.about().isEmpty() ? null : way.about(),
                null,
                null,
                false,
                way.order());
    }

    private boolean goesOn(Session session, LineReader reader) throws IOException {
        try {
            session.begin();
            String entry = reader.readLine(prompt(session));
            if (isStopNext()) {
                print(Printed.of(Look.NOTE, "stopped"));
                return true;
            }
            return session.enter(entry) != Next.QUIT || !mayLeave(session, reader);
        } catch (UserInterruptException e) {
            if (e.getPartialLine().isBlank()) {
                print(Printed.of(Look.FAINT, ":quit or Ctrl-D ends the session"));
            }
            return true;
        } catch (EndOfFileException e) {
            return !mayLeave(session, reader);
        }
    }

    /**
     * Whether Ctrl-C comes right behind a line. While a line is read, and looked through, it is a character like any
     * other; while the reader puts the terminal back, it interrupts this thread; after that it is a signal.
     */
    private boolean isStopNext() throws IOException {
        boolean interrupted = Thread.interrupted();
        NonBlockingReader typed = terminal.reader();
        boolean isNext = System.in.available() > 0 && typed.peek(FETCH_MILLIS) == CTRL_C && typed.read() == CTRL_C;
        return isNext || interrupted;
    }

    private String prompt(Session session) {
        String prompt = session.prompt();
        if (!colours) {
            return prompt;
        }
        AttributedStyle style = session.unit().isWriting() ? style(Look.NOTE).bold() : AttributedStyle.BOLD;
        return new AttributedStringBuilder().append(prompt, style).toAnsi(terminal);
    }

    private boolean mayLeave(Session session, LineReader reader) {
        String stake = session.unit().atStake();
        if (stake == null) {
            return true;
        }
        try {
            String answer = reader.readLine(stake + " would be lost. Leave all the same? (yes or no) ");
            return answer.strip().toLowerCase(Locale.ROOT).startsWith("y");
        } catch (UserInterruptException e) {
            return false;
        } catch (EndOfFileException e) {
            return true;
        }
    }

    private void warn(Session session, LineReader reader) {
        boolean again = System.nanoTime() - warned > OLD.toNanos();
        if (again && session.unit().mayHoldUpOthers(OLD) && reader.isReading()) {
            warned = System.nanoTime();
            reader.printAbove(styled(
                    "the transaction is open for more than " + Words.time(OLD)
                            + ", and others may be waiting for its rows: :commit or :undo",
                    Look.NOTE));
        }
    }

    @Override
    public void close() throws IOException {
        terminal.close();
    }
}
