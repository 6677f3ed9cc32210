package io.bathra.sql;

import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.sql.Upsert.Source;
import io.bathra.sql.WriteForm.Binding;
import io.bathra.sql.WriteForm.Present;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Forms of writing of H2. */
final class H2Forms extends Forms {
    H2Forms(Dialect dialect) {
        super(dialect);
    }

    @Override
    String answering(String insert, String columns) {
        return "select " + columns + " from final table (" + insert + ")";
    }

    @Override
    public Upsert.@Nullable Form upsert(Upsert upsert) {
        if (!upsert.entity().keySource().isDrawn()) {
            return null;
        }
        Source there = Upsert.rowsOf(dialect, "t");
        Source given = Upsert.rowsOf(dialect, "s");
        List<StoredColumn> columns = upsert.columns();
        String row = row(columns);
        String head = "select " + quote(upsert.entity().keyColumns().get(0).name()) + " from final table (merge into "
                + qualified(upsert.entity().table()) + " t using (values ";
        String tail = ") s(" + Dialect.aliases(columns) + ") on " + upsert.sameKey(there, given) + " when matched and "
                + upsert.differs(dialect, there, given) + " then update set "
                + upsert.sets(dialect, there, given) + insertUnmatched(columns) + ")";
        return new Upsert.Form(
                new WriteForm(
                        Binding.MULTI_ROW,
                        mostRows(columns),
                        Parameter.of(columns),
                        n -> head + String.join(", ", Collections.nCopies(n, row)) + tail,
                        Present.SKIPPED_WHEN_REPEATED),
                Upsert.Answer.KEY_UNLESS_BEGUN_ANEW);
    }

    /** In a change, a list is looked through for each row of the table; a merge begins with the list. */
    @Override
    SqlText change(Affected rows, Map<String, String> sets, List<SqlText.Param> values) {
        if (rows.areOwn()) {
            return super.change(rows, sets, values);
        }
        FoundRows found = rows.found();
        boolean first = found != null && found.joins().isEmpty();
        FoundRows.Listed list = found != null && first ? found.lists().get(0) : rows.listed();
        SqlText more = found != null && first ? found.withoutFirstList().all() : new SqlText("", List.of());
        List<SqlText.Param> params = new ArrayList<>(list.onceEach().params());
        params.addAll(more.params());
        params.addAll(values);
        return new SqlText(
                "merge into " + rows.table() + " using (" + list.onceEach().sql() + ") s on " + list.on("s")
                        + (more.sql().isEmpty() ? "" : " and " + more.sql()) + " when matched then "
                        + (sets.isEmpty() ? "delete" : "update set " + assignments("", sets)),
                params);
    }

    private String row(List<StoredColumn> columns) {
        return columns.stream()
                .map(column -> "cast(? as " + dialect.type(column.type()) + ")")
                .collect(Collectors.joining(", ", "(", ")"));
    }

    private String insertUnmatched(List<StoredColumn> columns) {
        return " when not matched then insert ("
                + names(columns.stream().map(StoredColumn::name).toList()) + ") values ("
                + columns.stream().map(column -> "s." + column.alias()).collect(Collectors.joining(", ")) + ")";
    }

    @Override
    WriteForm insertMissing(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        String row = row(columns);
        String head = "merge into " + qualified(entity.table()) + " t using (values ";
        String tail =
                ") s(" + Dialect.aliases(columns) + ") on " + sameKey(entity, "t", "s") + insertUnmatched(columns);
        return new WriteForm(
                Binding.MULTI_ROW,
                mostRows(columns),
                Parameter.of(columns),
                n -> head + String.join(", ", Collections.nCopies(n, row)) + tail,
                Present.SKIPPED_WHEN_REPEATED);
    }
}
