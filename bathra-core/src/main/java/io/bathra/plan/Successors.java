package io.bathra.plan;

import java.util.List;
import java.util.function.ToIntFunction;

/**
 * The edges of a directed graph, as two arrays of numbers: plans have as many nodes as rows, so a list for each would
 * cost more than the work on it.
 */
final class Successors {
    private final int[] starts;
    private final int[] targets;

    private Successors(int[] starts, int[] targets) {
        this.starts = starts;
        this.targets = targets;
    }

    /** The graph of these edges over nodes that are numbered from 0. */
    static <T> Successors of(int nodes, List<T> edges, ToIntFunction<T> from, ToIntFunction<T> to) {
        int[] starts = new int[nodes + 1];
        for (T edge : edges) {
            starts[from.applyAsInt(edge) + 1]++;
        }
        for (int node = 0; node < nodes; node++) {
            starts[node + 1] += starts[node];
        }
        int[] next = starts.clone();
        int[] targets = new int[edges.size()];
        for (T edge : edges) {
            targets[next[from.applyAsInt(edge)]++] = to.applyAsInt(edge);
        }
        return new Successors(starts, targets);
    }

    int nodes() {
        return starts.length - 1;
    }

    int count(int node) {
        return starts[node + 1] - starts[node];
    }

    int get(int node, int index) {
        return targets[starts[node] + index];
    }

    /**
     * How many nodes have to come before each one, along the longest way. Nodes on a ring, and those that wait for one,
     * are not reached: the answer has -1 for them.
     */
    int[] levels() {
        int[] waitsFor = new int[nodes()];
        for (int target : targets) {
            waitsFor[target]++;
        }
        int[] level = new int[nodes()];
        int[] ready = new int[nodes()];
        int end = 0;
        for (int node = 0; node < waitsFor.length; node++) {
            if (waitsFor[node] == 0) {
                ready[end++] = node;
            } else {
                level[node] = -1;
            }
        }
        int[] longest = new int[nodes()];
        for (int at = 0; at < end; at++) {
            int node = ready[at];
            level[node] = longest[node];
            for (int i = 0; i < count(node); i++) {
                int next = get(node, i);
                longest[next] = Math.max(longest[next], level[node] + 1);
                if (--waitsFor[next] == 0) {
                    ready[end++] = next;
                }
            }
        }
        return level;
    }
}
