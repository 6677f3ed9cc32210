package io.bathra.flush;

import io.bathra.jdbc.ConstraintCatalogue;
import io.bathra.jdbc.Database;
import io.bathra.jdbc.Recorder;
import io.bathra.jdbc.Settings;
import io.bathra.jdbc.Standbys;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.sql.Dialect;
import io.bathra.sql.Queries;
import io.bathra.trace.StatementListener;
import io.bathra.trace.StoreListener;
import java.sql.Connection;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Function;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/**
 * What everything takes from its store. Made once by the store; the parts that change (blocks of keys, remembered
 * statements, tokens to be swept) are safe to share between threads.
 */
public record Environment(
        Mapping model,
        DataSource source,
        Database database,
        ConstraintCatalogue constraints,
        Queries queries,
        Clock clock,
        KeyBlocks keyBlocks,
        TimeOrderedUuids uuids,
        CommitTokens commitTokens,
        AtomicLong units,
        @Nullable StatementListener statements,
        @Nullable StoreListener listener,
        boolean together,
        int keysAhead,
        @Nullable Standbys standbys) {
    private static volatile @Nullable Function<Object, Environment> door;

    /** How many keys of a table are drawn ahead, at most. */
    private static final int KEYS_AHEAD = 256;

    /** The environment of a model on a database, by the system's clock. */
    public static Environment of(Mapping model, DataSource source, Database database) {
        return new Environment(
                model,
                source,
                database.servedBy(model),
                new ConstraintCatalogue(model),
                new Queries(database.dialect()),
                Clock.systemUTC(),
                new KeyBlocks(),
                new TimeOrderedUuids(),
                new CommitTokens(),
                new AtomicLong(),
                null,
                null,
                true,
                KEYS_AHEAD,
                null);
    }

    /** Left here once by the class of stores, which shows nobody else what a store consists of. */
    public static void leave(Function<Object, Environment> left) {
        door = left;
    }

    /** What a store that a user has opened consists of. */
    public static Environment of(Object store) {
        return Objects.requireNonNull(door, "no store has been opened yet")
                .apply(Objects.requireNonNull(store, "store"));
    }

    /** The same by another clock, whose time need not be later than that of keys which were made before. */
    public Environment withClock(Clock newClock) {
        return changed(newClock, new TimeOrderedUuids(), keyBlocks, statements, listener, together, keysAhead);
    }

    /** The same, with each statement sent by itself. */
    public Environment oneByOne() {
        return changed(clock, uuids, keyBlocks, statements, listener, false, keysAhead);
    }

    /** The same, with so many keys of a table drawn ahead at most. */
    public Environment withKeysAhead(int most) {
        return changed(clock, uuids, new KeyBlocks(), statements, listener, together, most);
    }

    /** The same, with somebody around its statements, besides those who are there. */
    public Environment heardBy(StatementListener more) {
        StatementListener all = statements == null ? more : Listeners.both(statements, more);
        return changed(clock, uuids, keyBlocks, all, listener, together, keysAhead);
    }

    /** The same, with its units heard by somebody, besides those who hear them. */
    public Environment heardBy(StoreListener more) {
        StoreListener all = listener == null ? more : Listeners.both(listener, more);
        return changed(clock, uuids, keyBlocks, statements, all, together, keysAhead);
    }

    /** The same behind a pooler that gives each transaction to any of its sessions. */
    public Environment throughPooler() {
        return changed(
                database.throughPooler(), clock, uuids, keyBlocks, statements, listener, together, keysAhead, standbys);
    }

    /** The same with servers that reading units may go to. */
    public Environment readingFrom(List<DataSource> sources) {
        return changed(
                database, clock, uuids, keyBlocks, statements, listener, together, keysAhead, new Standbys(sources));
    }

    /** The same without them. */
    public Environment onPrimary() {
        return standbys == null
                ? this
                : changed(database, clock, uuids, keyBlocks, statements, listener, together, keysAhead, null);
    }

    private Environment changed(
            Clock newClock,
            TimeOrderedUuids newUuids,
            KeyBlocks newBlocks,
            @Nullable StatementListener around,
            @Nullable StoreListener hearing,
            boolean newTogether,
            int newKeysAhead) {
        return changed(database, newClock, newUuids, newBlocks, around, hearing, newTogether, newKeysAhead, standbys);
    }

    private Environment changed(
            Database newDatabase,
            Clock newClock,
            TimeOrderedUuids newUuids,
            KeyBlocks newBlocks,
            @Nullable StatementListener around,
            @Nullable StoreListener hearing,
            boolean newTogether,
            int newKeysAhead,
            @Nullable Standbys newStandbys) {
        return new Environment(
                model,
                source,
                newDatabase,
                constraints,
                queries,
                newClock,
                newBlocks,
                newUuids,
                commitTokens,
                units,
                around,
                hearing,
                newTogether,
                newKeysAhead,
                newStandbys);
    }

    /** A new trace, of a unit that has the next number. */
    public Recorder recorder() {
        return new Recorder(units.incrementAndGet(), statements);
    }

    public Dialect dialect() {
        return database.dialect();
    }

    /** A transaction, which takes a connection when it needs one. */
    public Transaction transaction(Recorder trace, Settings settings) {
        return transaction(trace, settings, null);
    }

    /** A transaction of its own, or a part of somebody else's on a connection that is joined. */
    Transaction transaction(Recorder trace, Settings settings, @Nullable Connection joined) {
        return new Transaction(source, database, constraints, trace, settings, joined, together, standbys);
    }

    /** A transaction of which nobody asks for a trace or anything particular. */
    public Transaction transaction() {
        return transaction(recorder(), Settings.PLAIN);
    }

    /** Forgets the keys that are kept for later, since what draws them has been set back. */
    public void forgetKeys() {
        keyBlocks.forgetAll();
    }

    /**
     * Draws keys in a transaction; the last ones that it has given are kept for whoever draws next in the same unit.
     */
    KeyDrawer keyDrawer(Transaction transaction, CharSequence cause, Map<String, Long> last) {
        return new KeyDrawer(this, transaction, cause, last);
    }
}
