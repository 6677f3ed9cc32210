package io.bathra.spring;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import java.util.Objects;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.springframework.jdbc.datasource.TransactionAwareDataSourceProxy;
import org.springframework.transaction.ConfigurableTransactionManager;
import org.springframework.transaction.IllegalTransactionStateException;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.ResourceTransactionManager;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * The unit of work of Spring's current transaction. There is one for each transaction and store, made when somebody
 * first asks for it, and flushed right before the commit, behind everybody else who has something to do then. Spring
 * begins and ends the transaction; when it has ended, the unit's objects are told how, and the unit is closed.
 *
 * <pre>{@code
 * @Transactional
 * public void delay(long id, Duration by) {
 *     units.here().require(PortCall.class, id).delayBy(by);
 * }
 * }</pre>
 *
 * <p>A read-only transaction has a unit that writes nothing, and one with a timeout a unit whose statements end when it
 * does. In a {@code NESTED} transaction the unit is the same; when that is rolled back, the unit's objects go back with
 * it. Safe to use from several threads, platform and virtual: what is current is the thread's.
 */
public final class Units {
    private final Store store;
    private final DataSource source;

    /**
     * Units of a store in the transactions of some managers.
     *
     * @param source the data source that the store was opened on
     * @param managers whose transactions on that data source have units; others are left alone
     * @param store the store
     */
    public Units(Store store, DataSource source, PlatformTransactionManager... managers) {
        this.store = Objects.requireNonNull(store, "store");
        this.source = target(source);
        for (PlatformTransactionManager manager : managers) {
            if (isFor(manager)) {
                ((ConfigurableTransactionManager) manager).addListener(new ManagerListener(this));
            }
        }
    }

    /** What is behind a data source that takes part in transactions by itself. */
    static DataSource target(DataSource source) {
        return source instanceof TransactionAwareDataSourceProxy proxy && proxy.getTargetDataSource() != null
                ? proxy.getTargetDataSource()
                : source;
    }

    private boolean isFor(PlatformTransactionManager manager) {
        return manager instanceof ConfigurableTransactionManager
                && manager instanceof ResourceTransactionManager resources
                && resources.getResourceFactory() instanceof DataSource own
                && target(own) == source;
    }

    /** {@return the store whose units they are} */
    public Store store() {
        return store;
    }

    DataSource source() {
        return source;
    }

    /**
     * {@return the unit of work of the current transaction}
     *
     * @throws IllegalTransactionStateException when there is no transaction, or none of this store's data source
     * @throws org.springframework.transaction.TransactionTimedOutException when its time has run out
     */
    public UnitOfWork here() {
        HostedUnit current = current();
        if (current != null) {
            return current.unit();
        }
        throw new IllegalTransactionStateException(
                TransactionSynchronizationManager.isActualTransactionActive()
                        ? "the current transaction is not one of this store's data source (" + store.databaseName()
                                + ") whose manager was given to these units; name its manager in @Transactional, or"
                                + " hand the manager to new Units(...)"
                        : "there is no transaction here that a unit of work could belong to; put @Transactional on the"
                                + " method, or use units.call(...), which works outside of one as well");
    }

    /**
     * Does a piece of work in the unit of the current transaction, or, where there is none, in a unit of its own, which
     * is committed when the work returns and rolled back when it throws.
     *
     * @param <T> what the work answers
     * @param <X> the checked exception that the work may throw
     * @param work the unit of work
     * @return what the work answers
     * @throws X when that fails
     */
    public <T extends @Nullable Object, X extends Exception> T call(Store.Work<T, X> work) throws X {
        return TransactionSynchronizationManager.isActualTransactionActive() ? work.apply(here()) : store.call(work);
    }

    /**
     * As {@link #call}, without an answer.
     *
     * @param <X> the checked exception that the work may throw
     * @param work the unit of work
     * @throws X when that fails
     */
    public <X extends Exception> void run(Store.VoidWork<X> work) throws X {
        call(unit -> {
            work.apply(unit);
            return null;
        });
    }

    /**
     * Writes what is pending, so that whoever works with the connection of the current transaction, a {@code
     * JdbcTemplate} say, sees it. Where there is no unit here, nothing is done.
     */
    public void flush() {
        HostedUnit current = current();
        if (current != null) {
            current.flush();
        }
    }

    /** The current transaction, whether somebody has asked for its unit or not. */
    @Nullable
    HostedUnit current() {
        return TransactionSynchronizationManager.isActualTransactionActive()
                ? (HostedUnit) TransactionSynchronizationManager.getResource(this)
                : null;
    }
}
