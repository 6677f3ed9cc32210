package io.bathra.contract;

import io.bathra.Store;

/** How the stores of the suite send their statements: together, or with a property each alone. */
final class Trips {
    /** Set, every statement is sent alone; all must be as it is without. */
    private static final boolean ALONE = Boolean.getBoolean("bathra.contract.alone");

    private Trips() {}

    /** The store as the suite tests it: no keys are drawn ahead, since tests count statements. */
    static Store asTested(Store store) {
        Store counted = store.withKeysAhead(0);
        return ALONE ? counted.sendingOneByOne() : counted;
    }
}
