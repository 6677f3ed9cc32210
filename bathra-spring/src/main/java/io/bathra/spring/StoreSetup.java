package io.bathra.spring;

import io.bathra.Store;

/**
 * A bean that has a say in how the store is set up, behind what the properties say: another clock, listeners, another
 * limit. Several are asked in their order.
 */
@FunctionalInterface
public interface StoreSetup {
    /**
     * {@return the store as it is to be used}
     *
     * @param store the store
     */
    Store apply(Store store);
}
