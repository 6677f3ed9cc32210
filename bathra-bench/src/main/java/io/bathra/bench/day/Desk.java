package io.bathra.bench.day;

/** The counter of a harbour office: five kinds of short work, each a transaction of its own. */
interface Desk {
    /**
     * A call arrives: its vessel and its pilots are found, the call and its movements are stored.
     *
     * @param number tells which, and is used once
     */
    void arrive(int number) throws Exception;

    /** Dues are paid into one of a few accounts, whose row is locked meanwhile. */
    void pay(int number) throws Exception;

    /** A call with its movements and its pilots; tells how many they are. */
    int status(int number) throws Exception;

    /** The ten calls at a berth that have been expected longest depart; tells how many there were. */
    int depart(int number) throws Exception;

    /** How many calls are expected at a berth. */
    long count(int number) throws Exception;
}
