package io.bathra.bench.day;

import java.util.Arrays;

/** What pieces of work of one kind took on one side. */
final class Tally {
    private long[] nanos = new long[1_024];
    private int count;
    private long cpu;
    private long bytes;

    void add(long time, long cpuTime, long allocated) {
        if (count == nanos.length) {
            nanos = Arrays.copyOf(nanos, count * 2);
        }
        nanos[count++] = time;
        cpu += cpuTime;
        bytes += allocated;
    }

    void add(Tally other) {
        for (int i = 0; i < other.count; i++) {
            add(other.nanos[i], 0, 0);
        }
        cpu += other.cpu;
        bytes += other.bytes;
    }

    long cpu() {
        return cpu;
    }

    long bytes() {
        return bytes;
    }

    /** Microseconds within which this part of them was done. */
    double micros(double part) {
        long[] sorted = Arrays.copyOf(nanos, count);
        Arrays.sort(sorted);
        return count == 0 ? Double.NaN : sorted[(int) (part * (count - 1))] / 1e3;
    }

    /** Microseconds of processor time that one took. */
    double cpuMicros() {
        return cpu / 1e3 / count;
    }

    /** Bytes that one allocated. */
    double bytesEach() {
        return (double) bytes / count;
    }
}
