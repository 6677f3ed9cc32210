package io.bathra;

import io.bathra.bulk.Bulk;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.jdbc.ConstraintCatalogue;
import io.bathra.jdbc.Database;
import io.bathra.jdbc.Transaction;
import io.bathra.jdbc.UrlDataSource;
import io.bathra.model.Model;
import io.bathra.plan.Cascade;
import io.bathra.plan.Chain;
import io.bathra.plan.Step;
import io.bathra.query.Sql;
import io.bathra.sql.AlongWriter;
import io.bathra.sql.Dialect;
import io.bathra.sql.Queries;
import io.bathra.sql.WriteForm;
import io.bathra.trace.Trace;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/**
 * A model on a database, for the life of an application. Safe to share between threads.
 *
 * <pre>{@code
 * try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:harbour")) {
 *     store.schema().createMissing();
 *     store.run(work -> work.add(new Operator("Nordlicht Reederei")));
 * }
 * }</pre>
 */
public final class Store implements AutoCloseable {
    private final Model model;
    private final DataSource source;
    private final @Nullable UrlDataSource owned;
    private final Database database;
    private final ConstraintCatalogue constraints;
    private final Clock clock;
    private final UnitLimits limits;
    private final KeyBlocks keyBlocks;
    private final CommitTokens commitTokens;
    private final TimeOrderedUuids uuids;
    private final Queries queries;

    private Store(Model model, DataSource source, @Nullable UrlDataSource owned) {
        this.model = model;
        this.source = source;
        this.owned = owned;
        this.clock = Clock.systemUTC();
        this.limits = UnitLimits.DEFAULT;
        this.keyBlocks = new KeyBlocks();
        this.uuids = new TimeOrderedUuids();
        this.constraints = new ConstraintCatalogue(model);
        this.commitTokens = new CommitTokens(this);
        try (Connection connection = source.getConnection()) {
            this.database = Database.of(connection, model.databaseSchema());
            this.queries = new Queries(database.dialect());
        } catch (SQLException e) {
            throw new DatabaseUnreachableException(
                    "no connection to the database: " + Database.firstLine(e)
                            + "; check that it runs, and the URL, user and password",
                    e);
        }
    }

    /**
     * Opens a store on a data source, such as a connection pool. The store never closes it.
     *
     * @throws DatabaseUnreachableException when no connection can be had
     */
    public static Store open(Model model, DataSource source) {
        return new Store(model, Objects.requireNonNull(source, "source"), null);
    }

    /** Opens a store on a JDBC URL, without a pool: for tests and small tools. */
    public static Store open(Model model, String url) {
        return open(model, url, null, null);
    }

    /** Opens a store on a JDBC URL for a user, without a pool: for tests and small tools. */
    public static Store open(Model model, String url, @Nullable String user, @Nullable String password) {
        UrlDataSource source = new UrlDataSource(url, user, password);
        try {
            return new Store(model, source, source);
        } catch (RuntimeException e) {
            source.close();
            throw e;
        }
    }

    private Store(Store other, Clock clock, UnitLimits limits) {
        this.model = other.model;
        this.source = other.source;
        this.owned = other.owned;
        this.database = other.database;
        this.queries = other.queries;
        this.constraints = other.constraints;
        this.clock = clock;
        this.limits = limits;
        this.keyBlocks = other.keyBlocks;
        this.commitTokens = other.commitTokens;
        this.uuids = other.uuids;
    }

    /**
     * The same store with another clock for the times that it stamps, so that a test can set it. Without one, the clock is
     * the system's in UTC. The two share what they have opened: closing either closes it.
     */
    public Store withClock(Clock newClock) {
        return new Store(this, newClock, limits);
    }

    /** The same store with other limits, from which on a unit of work is warned of. */
    public Store withLimits(UnitLimits newLimits) {
        return new Store(this, clock, newLimits);
    }

    UnitLimits limits() {
        return limits;
    }

    Clock clock() {
        return clock;
    }

    public Model model() {
        return model;
    }

    /** The database's name: {@code H2}, {@code SQLite}, {@code PostgreSQL} or {@code MariaDB}. */
    public String databaseName() {
        return database.dialect().name();
    }

    /** The tables of the model in this database. */
    public LiveSchema schema() {
        return new LiveSchema(this);
    }

    /** Begins a unit of work. Takes no connection before one is needed. */
    public UnitOfWork begin() {
        return begin(Terms.PLAIN);
    }

    /** Begins a unit of work on terms. Whoever begins one tries again by himself, so the number of attempts decides of commit tokens alone. */
    public UnitOfWork begin(Terms terms) {
        return new UnitOfWork(this, Objects.requireNonNull(terms, "terms"), null);
    }

    /**
     * Begins a unit of work within a transaction of somebody else's, who ends it: {@code commit} of the unit flushes, and
     * {@code rollback} takes back what the unit has done, by a savepoint. The connection is neither committed nor closed. On
     * SQLite, foreign keys are checked as far as the connection was told to.
     *
     * @param connection to the database of this store, with auto-commit switched off
     */
    public UnitOfWork join(Connection connection) {
        return new UnitOfWork(this, Terms.PLAIN, Objects.requireNonNull(connection, "connection"));
    }

    /**
     * A piece of work that gives an answer.
     *
     * @param <T> the answer
     * @param <X> the checked exception that it may throw
     */
    @FunctionalInterface
    public interface Work<T extends @Nullable Object, X extends Exception> {
        T apply(UnitOfWork work) throws X;
    }

    /** A piece of work without an answer. */
    @FunctionalInterface
    public interface VoidWork<X extends Exception> {
        void apply(UnitOfWork work) throws X;
    }

    /** Does a piece of work in a unit of its own: committed when it returns, rolled back when it throws. */
    public <T extends @Nullable Object, X extends Exception> T call(Work<T, X> task) throws X {
        return call(Terms.PLAIN, task);
    }

    /** Does a piece of work in a unit of its own: committed when it returns, rolled back when it throws. */
    public <X extends Exception> void run(VoidWork<X> task) throws X {
        run(Terms.PLAIN, task);
    }

    /**
     * Does a piece of work in a unit of its own: committed when it returns, rolled back when it throws. On terms that say so
     * it is done again, in a new unit, when it fails for a reason that may have gone; so what it does outside of the unit
     * must bear being done twice.
     */
    public <T extends @Nullable Object, X extends Exception> T call(Terms terms, Work<T, X> task) throws X {
        return terms.attempt(() -> {
            UnitOfWork work = begin(terms);
            try {
                T answer = task.apply(work);
                work.commit();
                return answer;
            } finally {
                work.abandon();
            }
        });
    }

    /** As {@link #call(Terms, Work)}, without an answer. */
    public <X extends Exception> void run(Terms terms, VoidWork<X> task) throws X {
        call(terms, work -> {
            task.apply(work);
            return null;
        });
    }

    /**
     * Does a piece of work in plain SQL, in a transaction of its own, without tracking: committed when it returns, rolled back
     * when it throws.
     *
     * <pre>{@code
     * long moved = store.transaction(tx -> {
     *     tx.sql("update berth set free = false where id = :id").with("id", 4).execute();
     *     return tx.sql("update port_call set berth_id = :id where id = :call").with("id", 4).with("call", 7).execute();
     * });
     * }</pre>
     */
    public <T extends @Nullable Object, X extends Exception> T transaction(PlainTransaction.Work<T, X> task) throws X {
        return transaction(Terms.PLAIN, task);
    }

    /** The same on terms; those that say so do the work again when it fails for a reason that may have gone. */
    public <T extends @Nullable Object, X extends Exception> T transaction(
            Terms terms, PlainTransaction.Work<T, X> task) throws X {
        return terms.attempt(() -> {
            try (Transaction transaction = transaction(new Trace(), terms)) {
                PlainTransaction plain = new PlainTransaction(this, transaction, terms);
                T answer = task.apply(plain);
                plain.commit();
                return answer;
            }
        });
    }

    /**
     * A statement in plain SQL with named parameters, on a connection and in a transaction of its own.
     *
     * <pre>{@code
     * int free = store.sql("select count(*) from berth where depth >= :draught").with("draught", 9.5).as(Integer.class).one();
     * }</pre>
     */
    public SqlCall<Map<String, @Nullable Object>> sql(String text) {
        return sql(Sql.of(text));
    }

    /** A statement in plain SQL that was made before, on a connection and in a transaction of its own. */
    public <R> SqlCall<R> sql(Sql<R> statement) {
        return new SqlCall<>(new OwnConnection(this), statement);
    }

    CommitTokens commitTokens() {
        return commitTokens;
    }

    Dialect dialect() {
        return database.dialect();
    }

    Queries queries() {
        return queries;
    }

    Transaction transaction(Trace trace, Terms terms) {
        return new Transaction(source, database, constraints, trace, terms.settings());
    }

    /**
     * Stores rows of one entity in any number, without tracking, in a transaction of its own.
     *
     * <pre>{@code
     * BulkResult result = store.bulk(Container.class).insertMissing(containers);
     * }</pre>
     */
    public <E> Bulk<E, E> bulk(Class<E> type) {
        model.entity(type);
        return Bulk.of(new OwnBulk(this), type);
    }

    KeyDrawer keyDrawer(Transaction transaction, CharSequence cause) {
        return new KeyDrawer(transaction, clock, keyBlocks, uuids, cause);
    }

    /** The SQL that a step will be executed with. */
    String statement(Step step) {
        Cascade cascade = step.cascade();
        if (cascade != null) {
            Chain chain = cascade.chains().get(0);
            List<Chain> alike = cascade.chains().stream()
                    .filter(other -> other.root() == chain.root())
                    .toList();
            List<Object> keys = cascade.removed().getOrDefault(chain.root(), List.of());
            return cascade.read()
                    ? AlongWriter.rows(dialect(), chain, new AlongWriter.WithKeys(keys), link -> List.of())
                            .sql()
                    : AlongWriter.write(dialect(), step.operation(), alike, new AlongWriter.WithKeys(keys))
                            .sql();
        }
        WriteForm form = Flush.form(dialect(), step);
        return form.sql().apply(1);
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
