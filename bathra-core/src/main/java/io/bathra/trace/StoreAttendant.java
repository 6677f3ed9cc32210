package io.bathra.trace;

import org.jspecify.annotations.Nullable;

/**
 * Is asked, as a service, whenever a program opens a store, whether somebody is to hear what that executes: without a
 * change of the program.
 */
public interface StoreAttendant {
    /** {@return who hears the store that is being opened; null for nobody} */
    @Nullable
    StatementListener attend();
}
