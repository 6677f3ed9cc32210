package io.bathra.contract;

import io.bathra.Store;
import io.bathra.model.Model;
import io.bathra.testing.TestDatabase;
import javax.sql.DataSource;

/** How the stores of the suite send their statements: together, or with a property each alone. */
final class Trips {
    /** Set, every statement is sent alone; all must be as it is without. */
    private static final boolean ALONE = Boolean.getBoolean("bathra.contract.alone");

    /** Set, the server is a node of a cluster, where what goes back needs a table. */
    static final boolean CLUSTER = Boolean.getBoolean("bathra.contract.cluster");

    private Trips() {}

    /** Whether the suite's stores send statements to a database together. */
    static boolean areMadeOf(TestDatabase database) {
        return !ALONE && (database == TestDatabase.POSTGRESQL || database == TestDatabase.MARIADB);
    }

    static Store open(Model model, DataSource source) {
        return asTested(Store.open(tested(model), source));
    }

    /** A store for a model whose tables are looked at, which gets no others. */
    static Store openAsDeclared(Model model, DataSource source) {
        return asTested(Store.open(model, source));
    }

    static Store open(Model model, String url) {
        return asTested(Store.open(tested(model), url));
    }

    static Store open(Model model, String url, String user, String password) {
        return asTested(Store.open(tested(model), url, user, password));
    }

    private static Model tested(Model model) {
        return CLUSTER && model.commitTokens() == null ? model.commitTokens("cluster_tokens") : model;
    }

    private static Store asTested(Store store) {
        return ALONE ? store.sendingOneByOne() : store;
    }
}
