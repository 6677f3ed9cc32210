package io.bathra.ledger;

import io.bathra.error.BathraException;
import io.bathra.error.ContentionException;
import io.bathra.error.UniqueViolation;
import io.bathra.flush.Environment;
import io.bathra.schema.Schema;
import io.bathra.sql.Alterations;
import java.time.Duration;
import java.util.List;
import java.util.Objects;
import java.util.UUID;
import java.util.concurrent.locks.LockSupport;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * The row by which one of many does the work. It is asked for again and again, and never waited for in the database. It
 * changes hands only when the session of whoever has it is gone: a program that is stopped for a while, or whose last
 * statement still goes on in the server, keeps it.
 */
final class Claim implements AutoCloseable {
    private static final long PAUSE_NANOS = 200_000_000;

    private final Session session;
    private final String table;
    private final Alterations alterations;
    private final String owner = UUID.randomUUID().toString();
    private final String ownSession;

    private Claim(Environment environment, Session session) {
        this.session = session;
        this.table = environment.dialect().qualified(Schema.CLAIM);
        this.alterations = environment.dialect().alterations();
        String sql = alterations.ownSession();
        this.ownSession = sql == null ? "" : Objects.requireNonNull(session.value(sql));
    }

    /**
     * Waits until it is free.
     *
     * @param told is told once for whom one waits
     * @throws BathraException when it was not free in time
     */
    static Claim take(Environment environment, Session session, Duration longest, Consumer<String> told) {
        Claim claim = new Claim(environment, session);
        long end = System.nanoTime() + longest.toNanos();
        String waitingFor = "";
        while (!claim.isTaken()) {
            List<@Nullable String> holder = claim.holder();
            if (holder == null && System.nanoTime() < end) {
                continue; // given back meanwhile
            } else if (holder == null) {
                throw new BathraException(
                        "others work so much with this database that the claim on its changes could not be" + " had in "
                                + longest.toSeconds() + " s; try again, or wait longer");
            }
            if (claim.isGone(holder)) {
                claim.takeOver(Objects.requireNonNull(holder.get(0)));
                continue;
            }
            String who = Worker.words(String.valueOf(holder.get(2)), String.valueOf(holder.get(3)));
            if (System.nanoTime() > end) {
                throw new BathraException("changes are being applied by " + who + " since " + holder.get(4)
                        + ", and it was not done in " + longest.toSeconds() + " s; try again, or wait longer"
                        + (environment.database().isOneOfSeveral()
                                ? ". Whether it is gone is known to the server alone that it worked through, "
                                        + holder.get(1)
                                        + " (session, host and port): ask there, or set owner to null in "
                                        + claim.table
                                : ""));
            }
            if (!who.equals(waitingFor)) {
                told.accept("waiting for " + who + ", which applies changes since " + holder.get(4));
                waitingFor = who;
            }
            LockSupport.parkNanos(PAUSE_NANOS);
        }
        return claim;
    }

    /** Whoever works in a file of SQLite keeps all others from writing, so that this is as good as a no. */
    private boolean isTaken() {
        try {
            return tried();
        } catch (ContentionException e) {
            return false;
        }
    }

    private boolean tried() {
        String values = "owner = ?, session_id = ?, host = ?, process = ?, since = current_timestamp";
        long taken = session.update(
                "update " + table + " set " + values + " where id = 1 and owner is null",
                owner,
                ownSession,
                Worker.HOST,
                Worker.PROCESS);
        return taken == 1 || owner.equals(session.value("select owner from " + table + " where id = 1"));
    }

    private @Nullable List<@Nullable String> holder() {
        List<List<@Nullable String>> rows = session.rows(
                "select owner, session_id, host, process, since from " + table + " where id = 1 and owner is not null");
        if (rows.isEmpty() && session.value("select id from " + table + " where id = 1") == null) {
            makeRow();
        }
        return rows.isEmpty() ? null : rows.get(0);
    }

    /** Several may find that it is not there. */
    private void makeRow() {
        try {
            session.update("insert into " + table + " (id) values (1)");
        } catch (UniqueViolation | ContentionException e) {
            return; // somebody else was faster
        }
    }

    /** Whether the session of whoever has it is not there any more; without sessions, whether the process is. */
    private boolean isGone(List<@Nullable String> holder) {
        String sql = alterations.isSessionThere();
        if (sql != null) {
            return "0".equals(session.value(sql, holder.get(1)));
        }
        return Worker.HOST.equals(holder.get(2)) && !Worker.isThere(Objects.requireNonNull(holder.get(3)));
    }

    private void takeOver(String gone) {
        session.update("update " + table + " set owner = null where id = 1 and owner = ?", gone);
    }

    /**
     * Looks whether it is still this one's.
     *
     * @throws BathraException when somebody has taken it over
     */
    void check() {
        if (!owner.equals(session.value("select owner from " + table + " where id = 1"))) {
            throw new BathraException(
                    "somebody else applies changes now, since this session was taken for gone; nothing"
                            + " more is done here");
        }
    }

    @Override
    public void close() {
        try {
            session.update("update " + table + " set owner = null where id = 1 and owner = ?", owner);
        } catch (BathraException e) {
            return; // whoever comes next finds that the session is gone
        }
    }
}
