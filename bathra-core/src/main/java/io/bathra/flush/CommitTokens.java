package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.UniqueViolation;
import io.bathra.jdbc.CommitFailed;
import io.bathra.jdbc.FailedSomewhere;
import io.bathra.jdbc.Transaction;
import io.bathra.jdbc.Trip;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Gate;
import io.bathra.schema.Schema;
import io.bathra.sql.Dialect;
import io.bathra.sql.SqlText;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;

/**
 * Finds out whether a transaction was committed when the reply to COMMIT was lost. The transaction puts a token into
 * a table; whoever wants to know puts the same token there himself, and commits it. While the transaction is
 * undecided he has to wait for it, then either his token is a duplicate, and the work was done, or it is not, and the
 * work can never be: a server that still has it to do, since it waits for a lock say, comes to a token that is there.
 * In a cluster, whose nodes do not wait for one another, what others have committed is waited for first.
 */
public final class CommitTokens {
    private static final String CAUSE = "commit token";

    /** So many tokens that have served are deleted at once. */
    private static final int SWEPT_AT_ONCE = 100;

    /** How often the database is asked where the terms set no time, since the connection may be lost again. */
    private static final int INQUIRIES = 10;

    private static final ColumnType TEXT = ColumnType.text(36);
    private static final Gate TIME =
            Gate.of("the time of a commit token", ColumnType.of(Instant.class).orElseThrow());

    /** The token of somebody who has asked stays so long, in case that a server comes to the work as late as that. */
    private static final Duration STAYS = Duration.ofHours(1);

    /** Tokens of those who have asked whether work was done that was not. */
    private final Queue<Asked> asked = new ConcurrentLinkedQueue<>();

    private record Asked(String token, Instant time) {}

    private final Queue<String> served = new ConcurrentLinkedQueue<>();
    private final AtomicInteger servedCount = new AtomicInteger();

    /**
     * Commits. Where the work may be done again, a lost connection is told from a lost reply.
     *
     * @throws ConnectionLostException when the work was not committed, for sure
     * @throws CommitUnknownException when nobody knows
     */
    public void commit(Environment environment, Transaction transaction, Attempts attempts) {
        Token token = transaction.hasWritten() ? token(environment, attempts) : null;
        if (token == null) {
            transaction.commit();
            return;
        }
        token.commit(transaction, () -> {
            Trip trip = transaction.trip();
            if (trip == null) {
                token.statements().forEach(one -> transaction.execute(CAUSE, one));
                transaction.commit();
            } else {
                token.addTo(trip);
                send(trip);
            }
        });
    }

    /** Whatever fails there has failed at the commit. */
    private static void send(Trip trip) {
        try {
            trip.send(true);
        } catch (FailedSomewhere e) {
            throw e.failure();
        } catch (CommitFailed e) {
            throw e.failure();
        }
    }

    /** What goes with a commit; null where the work is not done again, or leaves no tokens. */
    @Nullable
    Token token(Environment environment, Attempts attempts) {
        return attempts.areSeveral() && environment.model().commitTokens() != null
                ? new Token(environment, attempts)
                : null;
    }

    /** What tells later whether a transaction was committed. */
    final class Token {
        private final Environment environment;
        private final Attempts attempts;
        private final String token;
        private final Instant made;

        /** The tokens that are deleted along; none until something is to be executed. */
        private List<String> swept = List.of();

        private boolean put;

        private Token(Environment environment, Attempts attempts) {
            this.environment = environment;
            this.attempts = attempts;
            this.made = (Instant)
                    Objects.requireNonNull(TIME.kept(environment.clock().instant()));
            // new ones come behind all others, so that whoever deletes old ones is not in their way
            this.token = environment.uuids().next(environment.clock()).toString();
        }

        /** What is to be executed before the commit, in the same transaction. */
        private List<SqlText> statements() {
            put = true;
            swept = sweep(environment.clock().instant());
            SqlText ours = put(environment, token, made);
            return swept.isEmpty() ? List.of(ours) : List.of(delete(environment, swept), ours);
        }

        void addTo(Trip trip) {
            statements().forEach(one -> trip.add(CAUSE, one));
        }

        /**
         * Does what commits, and finds out whether that has been done when nobody says so.
         *
         * @param work executes the statements and commits, or leaves both to somebody else
         */
        void commit(Transaction transaction, Runnable work) {
            try {
                work.run();
            } catch (CommitUnknownException e) {
                transaction.close(); // which makes the database decide, if it has not heard of the loss
                leaveToSweep(swept); // deleting one twice does no harm
                if (!wasCommitted(environment, token, made, attempts, e)) {
                    throw new ConnectionLostException(
                            "the connection was lost during COMMIT, and nothing was committed; do the work again",
                            "commit",
                            e);
                }
            } catch (RuntimeException e) {
                leaveToSweep(swept);
                throw e;
            }
            if (put) {
                leaveToSweep(List.of(token));
            }
        }
    }

    /** These tokens are to be deleted by a later unit. */
    private void leaveToSweep(List<String> tokens) {
        served.addAll(tokens);
        servedCount.addAndGet(tokens.size());
    }

    /** His own token is told from that of the work by its time, since he may have lost a reply himself. */
    private boolean wasCommitted(
            Environment environment, String token, Instant made, Attempts attempts, CommitUnknownException unknown) {
        boolean[] mayBeOurs = new boolean[1];
        try {
            return attempts.orAtMost(INQUIRIES).attempt(() -> {
                try (Transaction inquiry = environment.transaction()) {
                    inquiry.execute(CAUSE, seeing(environment, put(environment, token, made.plusSeconds(1))));
                    mayBeOurs[0] = true;
                    inquiry.commit();
                    asked.add(new Asked(token, environment.clock().instant()));
                    return false;
                } catch (UniqueViolation e) {
                    return !mayBeOurs[0] || isOfThatTime(environment, token, made);
                } catch (CommitUnknownException e) {
                    throw new ConnectionLostException(
                            "the connection was lost while it was asked whether work had been committed", "commit", e);
                }
            });
        } catch (BathraException e) {
            unknown.addSuppressed(e);
            throw unknown;
        }
    }

    private static boolean isOfThatTime(Environment environment, String token, Instant made) {
        Dialect dialect = environment.dialect();
        SqlText question = new SqlText(
                "select 1 from " + table(environment) + " where " + dialect.quote(Schema.TOKEN) + " = ? and "
                        + dialect.quote(Schema.TOKEN_TIME) + " = ?",
                List.of(new SqlText.Value(TEXT, token), new SqlText.Value(TIME.type(), made)));
        boolean[] found = new boolean[1];
        try (Transaction inquiry = environment.transaction()) {
            inquiry.query(CAUSE, seeing(environment, question), row -> found[0] = true);
        }
        return found[0];
    }

    private static SqlText seeing(Environment environment, SqlText statement) {
        return environment.database().isOneOfSeveral() ? environment.dialect().seeingAll(statement) : statement;
    }

    private static SqlText put(Environment environment, String token, Instant made) {
        Dialect dialect = environment.dialect();
        return new SqlText(
                "insert into " + table(environment) + " (" + dialect.quote(Schema.TOKEN) + ", "
                        + dialect.quote(Schema.TOKEN_TIME) + ") values (?, ?)",
                List.of(new SqlText.Value(TEXT, token), new SqlText.Value(TIME.type(), made)));
    }

    /** Takes tokens that have served, once there are enough. */
    private List<String> sweep(Instant now) {
        List<String> tokens = new ArrayList<>();
        if (servedCount.get() < SWEPT_AT_ONCE) {
            return tokens;
        }
        for (String token = served.poll();
                token != null;
                token = tokens.size() < SWEPT_AT_ONCE ? served.poll() : null) {
            tokens.add(token);
        }
        servedCount.addAndGet(-tokens.size());
        Asked oldest = asked.peek();
        if (oldest != null && oldest.time.plus(STAYS).isBefore(now) && asked.remove(oldest)) {
            tokens.add(oldest.token);
        }
        tokens.sort(null); // units that delete in the same order do not wait for one another in a ring
        return tokens;
    }

    private static SqlText delete(Environment environment, List<String> tokens) {
        List<SqlText.Param> params = new ArrayList<>();
        tokens.forEach(token -> params.add(new SqlText.Value(TEXT, token)));
        Dialect dialect = environment.dialect();
        String sql = dialect.forms().delete(table(environment), dialect.quote(Schema.TOKEN), tokens.size());
        return new SqlText(sql, params);
    }

    private static String table(Environment environment) {
        return environment
                .dialect()
                .qualified(Objects.requireNonNull(environment.model().commitTokens()));
    }
}
