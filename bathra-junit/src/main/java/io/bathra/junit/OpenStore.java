package io.bathra.junit;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.model.Model;
import io.bathra.page.Recording;
import io.bathra.trace.StatementListener;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.extension.ExtensionContext;

/** A store that is open for the tests of a class. */
@SuppressWarnings("deprecation") // older versions of JUnit close nothing else
final class OpenStore implements ExtensionContext.Store.CloseableResource {
    private final Place place;
    final Faults faults;
    final WatchedSource watched;
    final TestClock clock = new TestClock(Instant.EPOCH);
    final Heard heard;
    final Recording recording = Recording.unattached();
    final Store store;
    private final @Nullable RolledBack rolledBack;

    /** The units that tests were given. */
    final List<UnitOfWork> begun = new ArrayList<>();

    OpenStore(Model model, TestDatabase database, boolean rollingBack) {
        place = database.empty();
        try {
            Store.open(model, place.source()).schema().createMissing();
            rolledBack = rollingBack ? new RolledBack(place.source()) : null;
            faults = new Faults(rolledBack == null ? place.source() : rolledBack.source(), true);
            watched = faults.watched();
        } catch (SQLException e) {
            throw new BathraException("no transaction could be begun for the tests: " + e.getMessage(), e);
        }
        heard = new Heard(model);
        store = Store.open(model, watched.source())
                .withClock(clock)
                .withKeysAhead(0)
                .heardBy(heard)
                .heardBy((StatementListener) recording);
    }

    void begin(Instant beginning, @Nullable Consumer<Store> filling) {
        faults.clear();
        clock.set(beginning);
        if (rolledBack == null) {
            store.schema().empty(store.model().name());
        }
        if (filling != null) {
            filling.accept(store);
        }
        heard.clear();
        recording.clear();
    }

    void end() {
        int open = watched.open();
        try {
            if (rolledBack != null) {
                rolledBack.rollBack();
            }
        } catch (SQLException e) {
            throw new BathraException("the test could not be rolled back: " + e.getMessage(), e);
        }
        if (open > 0) {
            watched.forget();
            throw new AssertionError(open + (open == 1 ? " connection was" : " connections were")
                    + " not given back; close each unit of work, stream and connection");
        }
    }

    @Override
    public void close() throws SQLException {
        watched.close();
        if (rolledBack != null) {
            rolledBack.close();
        }
        place.remove().run();
    }
}
