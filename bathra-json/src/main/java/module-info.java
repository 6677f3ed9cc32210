/** Entities as JSON and back, whichever library writes and reads it. */
module io.bathra.json {
    requires transitive io.bathra.core;
    requires static org.jspecify;

    exports io.bathra.json;
    exports io.bathra.json.format;
}
