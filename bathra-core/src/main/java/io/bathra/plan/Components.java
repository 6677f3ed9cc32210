package io.bathra.plan;

import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.Deque;

/**
 * The strongly connected components of a directed graph: sets of nodes that wait for one another.
 *
 * <p>R. Tarjan, "Depth-first search and linear graph algorithms", SIAM Journal on Computing 1(2), 1972; here with a
 * stack of its own instead of recursion, since rows can form chains of any length.
 */
final class Components {
    private final Successors successors;
    private final int[] index;
    private final int[] low;
    private final boolean[] onStack;
    private final Deque<Integer> stack = new ArrayDeque<>();
    private final int[] component;
    private int components;
    private int visited;

    private Components(Successors successors) {
        this.successors = successors;
        int n = successors.nodes();
        index = new int[n];
        Arrays.fill(index, -1);
        low = new int[n];
        onStack = new boolean[n];
        component = new int[n];
    }

    /** The component of each node; numbers are given from 0, successors before their predecessors. */
    static int[] of(Successors successors) {
        Components search = new Components(successors);
        for (int node = 0; node < successors.nodes(); node++) {
            if (search.index[node] < 0) {
                search.visit(node);
            }
        }
        return search.component;
    }

    private void visit(int root) {
        Deque<int[]> path = new ArrayDeque<>(); // node, next successor to look at
        path.push(enter(root));
        while (!path.isEmpty()) {
            int[] top = path.peek();
            int node = top[0];
            if (top[1] < successors.count(node)) {
                int next = successors.get(node, top[1]++);
                if (index[next] < 0) {
                    path.push(enter(next));
                } else if (onStack[next]) {
                    low[node] = Math.min(low[node], index[next]);
                }
                continue;
            }
            path.pop();
            if (!path.isEmpty()) {
                int parent = path.peek()[0];
                low[parent] = Math.min(low[parent], low[node]);
            }
            if (low[node] == index[node]) {
                leave(node);
            }
        }
    }

    private int[] enter(int node) {
        index[node] = low[node] = visited++;
        stack.push(node);
        onStack[node] = true;
        return new int[] {node, 0};
    }

    private void leave(int root) {
        int node;
        do {
            node = stack.pop();
            onStack[node] = false;
            component[node] = components;
        } while (node != root);
        components++;
    }
}
