package io.bathra;

import io.bathra.bulk.Bulk;
import io.bathra.error.BathraException;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.flush.Environment;
import io.bathra.flush.OwnBulk;
import io.bathra.flush.OwnConnection;
import io.bathra.flush.Unit;
import io.bathra.jdbc.BulkDoor;
import io.bathra.jdbc.BulkPlace;
import io.bathra.jdbc.Database;
import io.bathra.jdbc.Hosting;
import io.bathra.jdbc.Transaction;
import io.bathra.jdbc.Unreachable;
import io.bathra.jdbc.UrlDataSource;
import io.bathra.mapping.Mapping;
import io.bathra.model.Model;
import io.bathra.query.Sql;
import io.bathra.trace.StatementListener;
import io.bathra.trace.StoreAttendant;
import io.bathra.trace.StoreListener;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.ServiceLoader;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/**
 * A model on a database, for the life of an application. Safe to share between threads.
 *
 * <pre>{@code
 * try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:harbour")) {
 *     store.schema().createMissing();
 *     store.run(work -> work.add(new Operator("NLR", "Nordlicht Reederei")));
 * }
 * }</pre>
 */
public final class Store implements AutoCloseable {
    /** Who hears stores without a change of the program; nearly always nobody. */
    private static final List<StoreAttendant> ATTENDANTS = ServiceLoader.load(StoreAttendant.class).stream()
            .map(ServiceLoader.Provider::get)
            .toList();

    private static final BulkDoor BULK = BulkDoor.open(Bulk.class);

    static {
        Environment.leave(store -> ((Store) store).environment);
    }

    private final Model model;
    private final Environment environment;
    private final @Nullable UrlDataSource owned;
    private final UnitLimits limits;

    private Store(Model model, DataSource source, @Nullable UrlDataSource owned) {
        this(model, environment(model, source), owned, UnitLimits.DEFAULT);
    }

    private Store(Model model, Environment environment, @Nullable UrlDataSource owned, UnitLimits limits) {
        this.model = model;
        this.environment = environment;
        this.owned = owned;
        this.limits = limits;
    }

    private static Environment environment(Model model, DataSource source) {
        Hosting.refuse(source);
        try (Connection connection = source.getConnection()) {
            Environment environment =
                    Environment.of(Mapping.of(model), source, Database.of(connection, model.databaseSchema()));
            for (StoreAttendant attendant : ATTENDANTS) {
                StatementListener listener = attendant.attend();
                environment = listener == null ? environment : environment.heardBy(listener);
            }
            return environment;
        } catch (SQLException e) {
            throw Unreachable.of(e);
        }
    }

    /**
     * Opens a store on a data source, such as a connection pool. The store never closes it. Its connections may come
     * with auto-commit off, but not in the middle of somebody's transaction: for that there is {@link
     * #join(Connection)}. Each goes back with the settings that it came with.
     *
     * @param model the model
     * @param source where connections come from
     * @return the store
     * @throws DatabaseUnreachableException when no connection can be had
     * @throws BathraException when the data source hands out the connections of others' transactions
     */
    public static Store open(Model model, DataSource source) {
        return new Store(model, Objects.requireNonNull(source, "source"), null);
    }

    /**
     * Opens a store on a JDBC URL, without a pool: for tests and small tools.
     *
     * @param model the model
     * @param url the JDBC URL
     * @return the store
     */
    public static Store open(Model model, String url) {
        return open(model, url, null, null);
    }

    /**
     * Opens a store on a JDBC URL for a user, without a pool: for tests and small tools.
     *
     * @param model the model
     * @param url the JDBC URL
     * @param user the database's user; null for none
     * @param password the password; null for none
     * @return the store
     */
    public static Store open(Model model, String url, @Nullable String user, @Nullable String password) {
        UrlDataSource source = new UrlDataSource(url, user, password);
        try {
            return new Store(model, source, source);
        } catch (RuntimeException e) {
            source.close();
            throw e;
        }
    }

    /**
     * {@return the same store with another clock for the times that it stamps, so that a test can set it} Without
     * one, the clock is the system's in UTC. The two share what they have opened: closing either closes it.
     *
     * @param newClock the clock
     */
    public Store withClock(Clock newClock) {
        return new Store(model, environment.withClock(newClock), owned, limits);
    }

    /**
     * {@return the same store with other limits, from which on a unit of work is warned of}
     *
     * @param newLimits the limits
     */
    public Store withLimits(UnitLimits newLimits) {
        return new Store(model, environment, owned, Objects.requireNonNull(newLimits, "limits"));
    }

    /**
     * {@return the same store with somebody around everything that is executed from now on, by all units and threads;
     * besides those who are there already} The two share what they have opened: closing either closes it.
     *
     * @param listener whoever is to hear of it
     */
    public Store heardBy(StatementListener listener) {
        return new Store(model, environment.heardBy(Objects.requireNonNull(listener, "listener")), owned, limits);
    }

    /**
     * {@return the same for somebody who hears what becomes of units of work}
     *
     * @param listener whoever is to hear of it
     */
    public Store heardBy(StoreListener listener) {
        return new Store(model, environment.heardBy(Objects.requireNonNull(listener, "listener")), owned, limits);
    }

    /**
     * {@return the same store with another limit for the keys that are drawn ahead} Of a table whose rows are
     * inserted again and again, a store on a server draws keys that it will need soon, as many as it uses up in about
     * a second, so that a flush need not wait for its own. What was drawn and not used is lost when the program ends.
     * Without this, 256.
     *
     * @param most how many keys of a table are kept at most; 0 draws none ahead
     * @throws IllegalArgumentException when the number is negative
     */
    public Store withKeysAhead(int most) {
        if (most < 0) {
            throw new IllegalArgumentException("withKeysAhead(" + most + "): give 0 for none, or how many at most");
        }
        return new Store(model, environment.withKeysAhead(most), owned, limits);
    }

    /**
     * {@return the same store with each statement in a round trip of its own} Without this, on a server, statements
     * that need not wait for one another are sent together, as parts of one trip: for a proxy between that cannot
     * pass that on.
     */
    public Store sendingOneByOne() {
        return new Store(model, environment.oneByOne(), owned, limits);
    }

    /**
     * {@return the same store with standbys of its database, which follow it and show a little later what was
     * committed} Units on {@link Terms#reading reading} terms, and transactions in plain SQL on such terms, go to one
     * of them, in turn. To the primary go those that are SERIALIZABLE or {@linkplain Terms#upToDate up to date}, and
     * all that stands for itself, as {@link #sql} does. A standby that is gone is left alone for a few seconds; where
     * none is there, the primary has to do, and the trace says so.
     *
     * <p>Commits tell their {@linkplain FlushReport#position position}, which takes a trip more, for {@link
     * Terms#notBefore}. Whoever opened the data sources closes them.
     *
     * @param standbys data sources of the standbys
     * @throws IllegalArgumentException when there is none
     */
    public Store readingFrom(DataSource... standbys) {
        if (standbys.length == 0) {
            throw new IllegalArgumentException("readingFrom() names no standby; give it one data source for each");
        }
        return new Store(model, environment.readingFrom(List.of(standbys)), owned, limits);
    }

    /**
     * {@return the same store behind a pooler that gives each transaction to any of a few sessions of a PostgreSQL
     * server} The driver then prepares no statements there, since they would belong to others' sessions, and work
     * would be lost without a word. Without this, a store that sees such a pooler refuses to work, unless the
     * driver's URL says so already. On other databases nothing changes.
     */
    public Store throughPooler() {
        return new Store(model, environment.throughPooler(), owned, limits);
    }

    /** {@return the model} */
    public Model model() {
        return model;
    }

    /** {@return the database's name: {@code H2}, {@code SQLite}, {@code PostgreSQL} or {@code MariaDB}} */
    public String databaseName() {
        return environment.dialect().name();
    }

    /** {@return the tables of the model in this database} */
    public LiveSchema schema() {
        return new LiveSchema(environment);
    }

    /**
     * Begins a unit of work. Takes no connection before one is needed.
     *
     * @return the unit
     */
    public UnitOfWork begin() {
        return begin(Terms.PLAIN);
    }

    /**
     * Begins a unit of work on terms. Whoever begins one tries again by himself, so the number of attempts decides of
     * commit tokens alone.
     *
     * @param terms how the unit works
     * @return the unit
     */
    public UnitOfWork begin(Terms terms) {
        return unit(Objects.requireNonNull(terms, "terms"), null);
    }

    /**
     * Begins a unit of work as a guest in somebody else's transaction. The unit neither begins nor ends it, and sends
     * nothing for that: its {@code commit} is its last flush, its {@code close} lets go of its objects. Whoever ends
     * the transaction, the host, says by {@link UnitOfWork#ended} how, and by {@link Savepoint#wentBack} that he has
     * gone back to a savepoint of his own. What may fail in the database is done behind a savepoint, so that a refused
     * flush costs the host nothing.
     *
     * @param connection to the database of this store, with auto-commit switched off; on SQLite, foreign keys are
     *     checked as far as it was told to
     * @return the unit
     */
    public UnitOfWork join(Connection connection) {
        return join(connection, Terms.PLAIN);
    }

    /**
     * Begins a unit of work as a {@linkplain #join(Connection) guest} on terms: read-only, or with a limit on each of
     * its statements, which counts in whole seconds here, except on SQLite.
     *
     * @param connection the connection of the other transaction
     * @param terms how the unit works
     * @return the unit
     * @throws IllegalArgumentException when they ask for what is the host's to say: an isolation level, a lock timeout
     */
    public UnitOfWork join(Connection connection, Terms terms) {
        terms.refuseForGuest();
        return unit(terms, Objects.requireNonNull(connection, "connection"));
    }

    private UnitOfWork unit(Terms terms, @Nullable Connection joined) {
        return new UnitOfWork(
                new Unit(environment, terms.settings(), terms.isNoticing(), terms.attempts(), limits.inside(), joined));
    }

    /**
     * A piece of work that gives an answer.
     *
     * @param <T> the answer
     * @param <X> the checked exception that it may throw
     */
    @FunctionalInterface
    public interface Work<T extends @Nullable Object, X extends Exception> {
        /**
         * {@return what the work answers}
         *
         * @param work the unit of work
         * @throws X when that fails
         */
        T apply(UnitOfWork work) throws X;
    }

    /** A piece of work without an answer. */
    @FunctionalInterface
    public interface VoidWork<X extends Exception> {
        /**
         * Does the work.
         *
         * @param work the unit of work
         * @throws X when that fails
         */
        void apply(UnitOfWork work) throws X;
    }

    /** Work without an answer as work that answers with null. */
    static <X extends Exception> Work<@Nullable Void, X> answering(VoidWork<X> task) {
        return work -> {
            task.apply(work);
            return null;
        };
    }

    /**
     * Does a piece of work in a unit of its own: committed when it returns, rolled back when it throws.
     *
     * @param <T> what the work answers
     * @param <X> the checked exception that the work may throw
     * @param task the work
     * @return what the work answers
     * @throws X when that fails
     */
    public <T extends @Nullable Object, X extends Exception> T call(Work<T, X> task) throws X {
        return call(Terms.PLAIN, task);
    }

    /**
     * Does a piece of work in a unit of its own: committed when it returns, rolled back when it throws.
     *
     * @param <X> the checked exception that the work may throw
     * @param task the work
     * @throws X when that fails
     */
    public <X extends Exception> void run(VoidWork<X> task) throws X {
        run(Terms.PLAIN, task);
    }

    /**
     * Does a piece of work in a unit of its own: committed when it returns, rolled back when it throws. On terms that
     * say so it is done again, in a new unit, when it fails for a reason that may have gone; so what it does outside of
     * the unit must bear being done twice.
     *
     * @param <T> what the work answers
     * @param <X> the checked exception that the work may throw
     * @param terms how the unit works
     * @param task the work
     * @return what the work answers
     * @throws X when that fails
     */
    public <T extends @Nullable Object, X extends Exception> T call(Terms terms, Work<T, X> task) throws X {
        return terms.attempts().attempt(() -> {
            UnitOfWork work = begin(terms);
            T answer;
            try {
                answer = task.apply(work);
                work.unit().commitAtLast();
            } catch (Throwable e) {
                try {
                    work.unit().abandon();
                } catch (RuntimeException again) {
                    e.addSuppressed(again);
                }
                throw e;
            }
            work.unit().abandon();
            return answer;
        });
    }

    /**
     * As {@link #call(Terms, Work)}, without an answer.
     *
     * @param <X> the checked exception that the work may throw
     * @param terms how the unit works
     * @param task the work
     * @throws X when that fails
     */
    public <X extends Exception> void run(Terms terms, VoidWork<X> task) throws X {
        call(terms, answering(task));
    }

    /**
     * Does a piece of work in plain SQL, in a transaction of its own, without tracking: committed when it returns,
     * rolled back when it throws.
     *
     * <pre>{@code
     * long moved = store.transaction(tx -> {
     *     tx.sql("update port_call set status = 'DEPARTED' where id = :call").with("call", 7).execute();
     * return tx.sql("update container set operator_id = :to where operator_id = :from").with("from", 3).with("to",
     * 4).execute();
     * });
     * }</pre>
     *
     * @param <T> what the work answers
     * @param <X> the checked exception that the work may throw
     * @param task the work
     * @return what the work answers
     * @throws X when that fails
     */
    public <T extends @Nullable Object, X extends Exception> T transaction(PlainTransaction.Work<T, X> task) throws X {
        return transaction(Terms.PLAIN, task);
    }

    /**
     * {@return the same on terms; those that say so do the work again when it fails for a reason that may have gone}
     *
     * @param <T> what the work answers
     * @param <X> the checked exception that the work may throw
     * @param terms how the unit works
     * @param task the work
     * @throws X when that fails
     */
    public <T extends @Nullable Object, X extends Exception> T transaction(
            Terms terms, PlainTransaction.Work<T, X> task) throws X {
        return terms.attempts().attempt(() -> {
            try (Transaction transaction = environment.transaction(environment.recorder(), terms.settings())) {
                PlainTransaction plain = new PlainTransaction(environment, transaction, terms.attempts());
                T answer = task.apply(plain);
                plain.commit();
                return answer;
            }
        });
    }

    /**
     * {@return a statement in plain SQL with named parameters, on a connection and in a transaction of its own}
     *
     * <pre>{@code
     * int deep = store.sql("select count(*) from berth where max_draught_metres >= :draught").with("draught",
     * 9.5).as(Integer.class).one();
     * }</pre>
     *
     * @param text the text
     */
    public SqlCall<Map<String, @Nullable Object>> sql(String text) {
        return sql(Sql.of(text));
    }

    /**
     * {@return a statement in plain SQL that was made before, on a connection and in a transaction of its own}
     *
     * @param <R> what each row becomes
     * @param statement the statement
     */
    public <R> SqlCall<R> sql(Sql<R> statement) {
        return new SqlCall<>(new OwnConnection(environment, false), Objects.requireNonNull(statement, "statement"));
    }

    /**
     * Executes the statements of a script, which semicolons part, each in a transaction of its own. The bodies of
     * triggers and procedures are left whole; there are no parameters.
     *
     * @param text the text
     * @return how many statements there were
     * @throws BathraException when one fails; those before stay done
     */
    public int script(String text) {
        return SqlCall.script(new OwnConnection(environment, false), Objects.requireNonNull(text, "text"));
    }

    /**
     * Stores rows of one entity in any number, without tracking, in a transaction of its own.
     *
     * <pre>{@code
     * BulkResult result = store.bulk(Container.class).insertMissing(containers);
     * }</pre>
     *
     * @param <E> the entity
     * @param type the class
     * @return what rows are given to
     */
    public <E> Bulk<E, E> bulk(Class<E> type) {
        return bulk(new OwnBulk(environment), type);
    }

    @SuppressWarnings("unchecked") // the door gives bulk work on the class that it is given
    static <E> Bulk<E, E> bulk(BulkPlace place, Class<E> type) {
        place.model().entity(type);
        return (Bulk<E, E>) BULK.bulk(place, type);
    }

    /** Closes what the store has opened itself; a data source given to it stays open. */
    @Override
    public void close() {
        if (owned != null) {
            owned.close();
        }
    }

    @Override
    public String toString() {
        return "Store(" + model.name() + " on " + databaseName() + ")";
    }
}
