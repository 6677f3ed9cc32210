package io.bathra.sql;

import io.bathra.schema.Column;
import io.bathra.schema.Index;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import java.util.ArrayList;
import java.util.List;

/** For a database whose own way to draw keys does not let them be drawn ahead, so that each table has a sequence of ours as the
 * default of its key. It also makes an index for each foreign key by itself. */
abstract class OwnSequenceDefinitions extends Definitions {
    OwnSequenceDefinitions(Dialect dialect) {
        super(dialect);
    }

    /** The expression that draws from a sequence, given its name as it stands in SQL. */
    abstract String nextValue(String sequence);

    /** What a sequence for a table is created with. */
    String sequenceOptions() {
        return "";
    }

    @Override
    final List<String> beforeTable(Table table) {
        boolean generated = table.columns().stream().anyMatch(Column::generated);
        return generated
                ? List.of("create sequence if not exists " + sequence(table.name()) + sequenceOptions())
                : super.beforeTable(table);
    }

    @Override
    final String generated(Table table) {
        return "default " + nextValue(sequence(table.name()));
    }

    @Override
    final List<String> afterDrop(Table table) {
        return List.of("drop sequence if exists " + sequence(table.name()));
    }

    @Override
    final List<String> setBackOwn(Table table) {
        return List.of(setBackOwn(sequence(table.name())));
    }

    /** The statement that makes a table's sequence begin again. */
    String setBackOwn(String sequence) {
        return setBack(sequence);
    }

    @Override
    public final List<Index> indexes(Table table) {
        List<Index> indexes = new ArrayList<>(table.indexes());
        indexes.removeIf(index ->
                table.foreignKeys().stream().anyMatch(key -> index.columns().equals(key.columns())));
        return indexes;
    }

    private String sequence(String table) {
        return qualified(Schema.sequence(table));
    }
}
