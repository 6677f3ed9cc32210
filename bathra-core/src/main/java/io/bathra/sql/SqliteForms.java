package io.bathra.sql;

import io.bathra.mapping.KeySource;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.UniqueKey;
import io.bathra.sql.Upsert.Source;
import io.bathra.sql.WriteForm.Binding;
import io.bathra.sql.WriteForm.Present;
import java.util.Collections;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Forms of writing of SQLite. */
final class SqliteForms extends Forms {
    SqliteForms(Dialect dialect) {
        super(dialect);
    }

    @Override
    public String deferConstraints() {
        return "pragma defer_foreign_keys = on";
    }

    @Override
    public WriteForm insertAbsent(
            ModelEntity<?> entity, List<StoredColumn> columns, @Nullable UniqueKey key, int rows) {
        WriteForm plain = insert(entity, columns, rows);
        String tail = " on conflict" + conflictTarget(key) + " do nothing";
        return new WriteForm(
                plain.binding(),
                plain.chunk(),
                plain.parameters(),
                n -> plain.sql().apply(n) + tail,
                Present.SKIPPED);
    }

    /**
     * To answer with rows takes as long again as to write them, so they are counted where the keys are left to the
     * database.
     */
    @Override
    public Upsert.@Nullable Form upsert(Upsert upsert) {
        if (!upsert.entity().keySource().isDrawn()) {
            return null;
        }
        Source there = Upsert.rowsOf(dialect, quote(upsert.entity().table()));
        Source given = Upsert.rowsOf(dialect, "excluded");
        boolean counted = upsert.entity().keySource().equals(KeySource.GENERATED)
                && !upsert.columns().contains(upsert.entity().keyColumns().get(0));
        WriteForm plain = insert(upsert.entity(), upsert.columns(), 2);
        String key = quote(upsert.entity().keyColumns().get(0).name());
        String tail = " on conflict ("
                + names(upsert.key().stream().map(StoredColumn::name).toList()) + ") do update set "
                + upsert.sets(dialect, there, given) + " where " + upsert.differs(dialect, there, given)
                + (counted ? "" : " returning " + key);
        return new Upsert.Form(
                new WriteForm(
                        plain.binding(),
                        plain.chunk(),
                        plain.parameters(),
                        n -> plain.sql().apply(n) + tail),
                counted ? Upsert.Answer.WRITTEN : Upsert.Answer.KEY);
    }

    /** Nobody else writes meanwhile. */
    @Override
    WriteForm insertMissing(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        String row = "(" + Dialect.placeholders(columns.size()) + ")";
        String head = "with s(" + Dialect.aliases(columns) + ") as (values ";
        String tail = ") " + insertHead(entity, columns) + " select * from s where not exists (select 1 from "
                + qualified(entity.table()) + " t where " + sameKey(entity, "t", "s") + ")";
        return new WriteForm(
                Binding.MULTI_ROW,
                mostRows(columns),
                Parameter.of(columns),
                n -> head + String.join(", ", Collections.nCopies(n, row)) + tail,
                Present.SKIPPED);
    }
}
