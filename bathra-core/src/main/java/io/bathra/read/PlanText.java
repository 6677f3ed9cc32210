package io.bathra.read;

import io.bathra.jdbc.Cursor;
import io.bathra.jdbc.Transaction;
import io.bathra.text.AlignedTable;
import java.util.ArrayList;
import java.util.List;

/** A database's plan for a statement as text: one column as lines, several as a table. */
final class PlanText {
    private PlanText() {}

    static String of(Cursor cursor, Transaction transaction) {
        List<String> labels =
                cursor.use(result -> List.copyOf(NamedColumns.labels(result).keySet()));
        List<List<String>> rows = new ArrayList<>();
        while (cursor.next()) {
            rows.add(cursor.use(result -> {
                List<String> row = new ArrayList<>();
                for (int i = 1; i <= labels.size(); i++) {
                    row.add(String.valueOf(transaction.readPlain(result, i)));
                }
                return row;
            }));
        }
        if (labels.size() == 1) {
            return String.join("\n", rows.stream().map(row -> row.get(0)).toList());
        }
        AlignedTable table = new AlignedTable(labels.toArray(String[]::new));
        rows.forEach(row -> table.line(row.toArray()));
        return table.toString();
    }
}
