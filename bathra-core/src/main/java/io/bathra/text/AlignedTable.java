package io.bathra.text;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;

/** A table as plain text: columns as wide as their widest cell, numbers to the right. */
public final class AlignedTable {
    private final List<List<String>> lines = new ArrayList<>();

    /** A table with this heading. */
    public AlignedTable(String... heading) {
        lines.add(List.of(heading));
    }

    /** Adds a line of as many cells as the heading has. */
    public void line(Object... cells) {
        lines.add(Arrays.stream(cells).map(String::valueOf).toList());
    }

    @Override
    public String toString() {
        int columns = lines.get(0).size();
        StringBuilder format = new StringBuilder();
        for (int column = 0; column < columns; column++) {
            int at = column;
            int width =
                    lines.stream().mapToInt(line -> line.get(at).length()).max().orElse(0);
            boolean numbers =
                    lines.stream().skip(1).allMatch(line -> line.get(at).matches("\\d+"));
            format.append(numbers ? "%" : "%-").append(Math.max(width, 1)).append("s  ");
        }
        return lines.stream()
                .map(line -> String.format(format.toString(), line.toArray()).stripTrailing())
                .collect(Collectors.joining("\n"));
    }
}
