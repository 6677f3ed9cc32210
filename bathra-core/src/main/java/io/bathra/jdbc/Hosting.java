package io.bathra.jdbc;

import io.bathra.error.BathraException;
import javax.sql.DataSource;

/** Data sources that hand out the connection of the thread's transaction, where somebody has begun one. */
public final class Hosting {
    private static final String PROXY = "org.springframework.jdbc.datasource.TransactionAwareDataSourceProxy";

    private Hosting() {}

    /**
     * Refuses a data source whose connections are in transactions of somebody else.
     *
     * @throws BathraException when it is known for that
     */
    public static void refuse(DataSource source) {
        for (Class<?> type = source.getClass(); type != null; type = type.getSuperclass()) {
            if (type.getName().equals(PROXY)) {
                throw new BathraException("a " + type.getSimpleName() + " hands out connections in the middle of the"
                        + " transactions of others, which a store's own units would commit; open the store on the data"
                        + " source behind it (getTargetDataSource()), and work in such a transaction with"
                        + " store.join(connection)");
            }
        }
    }
}
