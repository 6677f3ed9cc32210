/** Entities as JSON by Jackson 2. */
@SuppressWarnings("module") // the digit is the name of what it stands on
module io.bathra.jackson2 {
    requires transitive io.bathra.json;
    requires transitive com.fasterxml.jackson.databind;
    requires static org.jspecify;

    exports io.bathra.jackson2;
}
