/** Entities as JSON by Jackson 3. */
@SuppressWarnings("module") // the digit is the name of what it stands on
module io.bathra.jackson3 {
    requires transitive io.bathra.json;
    requires transitive tools.jackson.databind;
    requires static org.jspecify;

    exports io.bathra.jackson3;
}
