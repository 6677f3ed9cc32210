package io.bathra.bench;

/** The heap of this program. */
public final class Heap {
    private Heap() {}

    /** The bytes that are in use when what nobody needs is gone: the least of a few looks. */
    public static long used() {
        Runtime runtime = Runtime.getRuntime();
        long least = Long.MAX_VALUE;
        for (int i = 0; i < 4; i++) {
            System.gc();
            least = Math.min(least, runtime.totalMemory() - runtime.freeMemory());
        }
        return least;
    }
}
