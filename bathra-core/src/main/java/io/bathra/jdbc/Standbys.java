package io.bathra.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Servers that follow another one, and show what was committed there a little later. They are asked in turn. One that
 * is gone is left alone for a while.
 */
public final class Standbys {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra.sql");
    private static final long LEFT_ALONE_NANOS = 5_000_000_000L;

    private final List<Standby> all;
    private final AtomicInteger turn = new AtomicInteger();

    private static final class Standby {
        private final DataSource source;
        private final int number;
        private volatile long gone = System.nanoTime() - LEFT_ALONE_NANOS;

        Standby(DataSource source, int number) {
            this.source = source;
            this.number = number;
        }

        void leaveAlone() {
            gone = System.nanoTime();
        }

        boolean isLeftAlone() {
            return System.nanoTime() - gone < LEFT_ALONE_NANOS;
        }
    }

    /**
     * A connection to one of them.
     *
     * @param leaveAlone to be run when the standby turns out to be gone
     */
    record Taken(Connection connection, Runnable leaveAlone) {}

    /** One of the sources at least. */
    public Standbys(List<DataSource> sources) {
        Standby[] standbys = new Standby[sources.size()];
        for (int i = 0; i < standbys.length; i++) {
            standbys[i] = new Standby(sources.get(i), i + 1);
        }
        this.all = List.of(standbys);
    }

    /**
     * A connection to one of them.
     *
     * @param position how far it must have come; null for however far
     * @param millis how long it may take until it has
     * @param told is told why the primary has to do
     * @return null where the primary has to do
     */
    @Nullable
    Taken take(Database database, @Nullable String position, long millis, Consumer<String> told) {
        int first = Math.floorMod(turn.getAndIncrement(), all.size());
        String why = "no standby is there";
        for (int i = 0; i < all.size(); i++) {
            Standby standby = all.get((first + i) % all.size());
            if (standby.isLeftAlone()) {
                continue;
            }
            Connection connection = null;
            try {
                connection = standby.source.getConnection();
                if (position == null || database.comesTo(connection, position, millis)) {
                    return new Taken(connection, standby::leaveAlone);
                }
                connection.close();
                why = "standby " + standby.number + " was not at " + position + " after " + millis + " ms";
                break; // the others have waited as long, or would take as long again
            } catch (RuntimeException e) {
                close(connection);
                throw e;
            } catch (SQLException e) {
                standby.leaveAlone();
                LOG.debug("standby {} is gone, and left alone for a while", standby.number, e);
                close(connection);
            }
        }
        told.accept(why);
        return null;
    }

    private static void close(@Nullable Connection connection) {
        try {
            if (connection != null) {
                connection.close();
            }
        } catch (SQLException e) {
            LOG.debug("closing a connection to a standby failed", e);
        }
    }
}
