package io.bathra.error;

import java.util.List;

/** Changes that no order of statements can write, since each row has to come before the next in a ring. */
public final class UnorderableChangesException extends BathraException {
    /** The rows that wait for one another. */
    private final List<String> cycle;

    /**
     * Made by the library, where it happens.
     *
     * @param cycle the rows that wait for one another
     */
    public UnorderableChangesException(List<String> cycle) {
        super("these rows wait for one another and no nullable link allows to cut the ring: "
                + String.join(" -> ", cycle)
                + "; make one of these links optional or deferrable(), or store the rows in two flushes");
        this.cycle = List.copyOf(cycle);
    }

    /**
     * For one row that stands in the way of others.
     *
     * @param message what happened, where, and what to do
     */
    public UnorderableChangesException(String message) {
        super(message);
        this.cycle = List.of();
    }

    /**
     * {@return the rows of the ring, each waiting for the next; the first one is repeated at the end} Empty where one
     * row alone is in the way.
     */
    public List<String> cycle() {
        return cycle;
    }
}
