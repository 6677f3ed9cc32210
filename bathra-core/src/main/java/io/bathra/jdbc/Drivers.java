package io.bathra.jdbc;

import io.bathra.error.BathraException;
import java.util.LinkedHashMap;
import java.util.Map;
import javax.sql.DataSource;

/** Which URLs there are, whose driver takes them, and which data sources a store cannot do with. */
public final class Drivers {
    private static final Map<String, String> ARTIFACTS = new LinkedHashMap<>();

    static {
        ARTIFACTS.put("jdbc:h2:", "com.h2database:h2");
        ARTIFACTS.put("jdbc:sqlite:", "org.xerial:sqlite-jdbc");
        ARTIFACTS.put("jdbc:postgresql:", "org.postgresql:postgresql");
        ARTIFACTS.put("jdbc:mariadb:", "org.mariadb.jdbc:mariadb-java-client");
    }

    /** Hands out the connection of the thread's transaction, if there is one. */
    private static final String HOSTING = "org.springframework.jdbc.datasource.TransactionAwareDataSourceProxy";

    private Drivers() {}

    /** Refuses a data source whose connections are in transactions of somebody else. */
    public static void refuseHosting(DataSource source) {
        for (Class<?> type = source.getClass(); type != null; type = type.getSuperclass()) {
            if (type.getName().equals(HOSTING)) {
                throw new BathraException("a " + type.getSimpleName() + " hands out connections in the middle of the"
                        + " transactions of others, which a store's own units would commit; open the store on the data"
                        + " source behind it (getTargetDataSource()), and work in such a transaction with"
                        + " store.join(connection)");
            }
        }
    }

    /** What to do where no driver takes a URL. */
    static String advice(String url) {
        return ARTIFACTS.entrySet().stream()
                .filter(one -> url.startsWith(one.getKey()))
                .findFirst()
                .map(one -> "the driver is not on the class path; add " + one.getValue())
                .orElse("Bathra knows URLs that begin with " + String.join(", ", ARTIFACTS.keySet()));
    }
}
