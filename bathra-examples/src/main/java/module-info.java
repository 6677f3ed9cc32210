/** The harbour office: a model, its demo data, and programs that show Bathra at work. */
module io.bathra.examples {
    requires transitive io.bathra.core;
    requires io.bathra.changes;
    requires io.bathra.jackson3;
    requires io.bathra.page;
    requires java.net.http;
    requires jdk.httpserver;
    requires org.apache.commons.csv;
    requires static org.jspecify;

    exports io.bathra.examples;
    exports io.bathra.examples.harbour;

    opens io.bathra.examples.guide to
            io.bathra.core;
    opens io.bathra.examples.harbour to
            io.bathra.core;
}
