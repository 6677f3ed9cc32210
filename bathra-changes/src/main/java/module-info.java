/** Change files: what leads from one model to the next. */
module io.bathra.changes {
    requires transitive io.bathra.core;
    requires org.snakeyaml.engine.v2;
    requires static org.jspecify;

    exports io.bathra.changes;
}
