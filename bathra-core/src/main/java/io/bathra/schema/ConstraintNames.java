package io.bathra.schema;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.zip.CRC32;

/** Names for constraints: speaking, always the same, and short enough for every database. */
final class ConstraintNames {
    /** PostgreSQL cuts longer names silently. */
    private static final int LONGEST = 63;

    private ConstraintNames() {}

    static String of(String table, List<String> columns, String kind) {
        String subject = columns.isEmpty() ? table : table + "_" + String.join("_", columns);
        String name = subject + "_" + kind;
        byte[] bytes = name.getBytes(StandardCharsets.UTF_8);
        if (bytes.length <= LONGEST) {
            return name;
        }
        CRC32 hash = new CRC32();
        hash.update(bytes);
        String tail = String.format("_%08x_%s", hash.getValue(), kind);
        StringBuilder head = new StringBuilder(subject);
        while (head.toString().getBytes(StandardCharsets.UTF_8).length + tail.length() > LONGEST) {
            head.setLength(head.length() - 1);
        }
        return head + tail;
    }
}
