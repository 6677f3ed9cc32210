package io.bathra.contract;

import io.bathra.Store;
import io.bathra.model.Model;
import io.bathra.testing.TestDatabase;
import javax.sql.DataSource;

/** How the stores of the suite send their statements: together, or with a property each alone. */
final class Trips {
    /** Set, every statement is sent alone; all must be as it is without. */
    private static final boolean ALONE = Boolean.getBoolean("bathra.contract.alone");

    private Trips() {}

    /** Whether the suite's stores send statements to a database together. */
    static boolean areMadeOf(TestDatabase database) {
        return !ALONE && (database == TestDatabase.POSTGRESQL || database == TestDatabase.MARIADB);
    }

    static Store open(Model model, DataSource source) {
        return asTested(Store.open(model, source));
    }

    static Store open(Model model, String url) {
        return asTested(Store.open(model, url));
    }

    static Store open(Model model, String url, String user, String password) {
        return asTested(Store.open(model, url, user, password));
    }

    private static Store asTested(Store store) {
        return ALONE ? store.sendingOneByOne() : store;
    }
}
