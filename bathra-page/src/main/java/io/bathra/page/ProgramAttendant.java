package io.bathra.page;

import io.bathra.trace.StatementListener;
import io.bathra.trace.StoreAttendant;
import java.nio.file.Path;
import java.util.concurrent.atomic.AtomicReference;
import org.jspecify.annotations.Nullable;

/**
 * Hears the stores of a whole program: while a {@link Recording#ofProgram} is open, or, where the system property
 * {@code bathra.page} names a file, until the program ends, when the page is written there.
 */
public final class ProgramAttendant implements StoreAttendant {
    private static final AtomicReference<@Nullable Recording> OPEN = new AtomicReference<>();

    private static final @Nullable String FILE = System.getProperty("bathra.page");

    static {
        if (FILE != null) {
            Recording recording = Recording.unattached();
            OPEN.set(recording);
            Runtime.getRuntime()
                    .addShutdownHook(new Thread(() -> recording.page(FILE).write(Path.of(FILE))));
        }
    }

    /** Called by the service loader. */
    public ProgramAttendant() {}

    static void begin(Recording recording) {
        if (!OPEN.compareAndSet(null, recording)) {
            throw new IllegalStateException("the program is recorded already; close that recording before");
        }
    }

    static void end(Recording recording) {
        OPEN.compareAndSet(recording, null);
    }

    @Override
    public @Nullable StatementListener attend() {
        return OPEN.get();
    }
}
