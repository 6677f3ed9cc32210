/** What was executed, as a page to look at. */
module io.bathra.page {
    requires transitive io.bathra.core;
    requires static org.jspecify;

    exports io.bathra.page;

    provides io.bathra.trace.StoreAttendant with
            io.bathra.page.ProgramAttendant;
}
