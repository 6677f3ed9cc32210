/** Bathra: plain object graphs, tracked and flushed as a short, ordered list of SQL statements. */
module io.bathra.core {
    requires transitive java.sql;
    requires org.slf4j;
    requires static transitive org.jspecify;
    requires static com.h2database;
    requires static org.mariadb.jdbc;
    requires static org.postgresql.jdbc;
    requires static org.xerial.sqlitejdbc;

    uses io.bathra.model.JsonCodec;
    uses io.bathra.trace.StoreAttendant;

    exports io.bathra;
    exports io.bathra.answer;
    exports io.bathra.attr;
    exports io.bathra.bulk;
    exports io.bathra.error;
    exports io.bathra.evolve;
    exports io.bathra.form;
    exports io.bathra.link;
    exports io.bathra.model;
    exports io.bathra.query;
    exports io.bathra.trace;
}
