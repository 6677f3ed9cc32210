package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource;
import io.bathra.schema.Table;
import java.util.ArrayList;
import java.util.List;

/** Tables of MariaDB. */
final class MariaDbDefinitions extends OwnSequenceDefinitions {
    /** Of the collations that keep trailing blanks apart, as the other databases do. */
    private static final String COLLATION = "utf8mb4_nopad_bin";

    MariaDbDefinitions(Dialect dialect) {
        super(dialect);
    }

    /** Keys of an AUTO_INCREMENT column cannot be drawn ahead; hence a sequence of our own. */
    @Override
    String nextValue(String sequence) {
        return "nextval(" + sequence + ")";
    }

    /** The nodes of a cluster take turns, so it is they that say by how much a sequence goes on; a single server says 1. */
    @Override
    String sequenceOptions() {
        return " cache 1000 increment by 0";
    }

    @Override
    String setBackOwn(String sequence) {
        return "alter sequence " + sequence + " increment by 0 restart with 1";
    }

    /** A cluster has no sequences that go on by a number of their own and take values aside. */
    @Override
    String createSequence(KeySource.Sequence sequence) {
        return super.createSequence(sequence) + " nocache";
    }

    @Override
    String setBack(String sequence) {
        return "alter sequence " + sequence + " nocache restart with 1";
    }

    @Override
    String tableOptions() {
        return " engine = innodb default character set utf8mb4 collate " + COLLATION;
    }

    @Override
    List<String> exactCollations() {
        return List.of(COLLATION);
    }

    /** MariaDB reads CASCADE here and does nothing about it, so the check of foreign keys rests meanwhile. */
    @Override
    public List<String> drop(List<Table> tables) {
        List<String> statements = new ArrayList<>(super.drop(tables));
        statements.add(0, "set foreign_key_checks = 0");
        statements.add("set foreign_key_checks = 1");
        return statements;
    }

    /** Small tables are emptied faster by rows than by being made anew. */
    @Override
    List<String> deleteAll(List<Table> tables) {
        return tables.stream()
                .map(table -> "set statement foreign_key_checks = 0 for delete from " + qualified(table.name()))
                .toList();
    }

    @Override
    int mostColumns() {
        return 1017;
    }

    @Override
    List<String> listedTypes(ColumnType type) {
        return switch (type.kind()) {
            case BOOLEAN -> List.of("boolean", "bit", "tinyint");
            case INTEGER -> List.of("int", "integer");
            case CHARACTER, STRING, ENUM -> List.of(type.length() == 0 ? "longtext" : "varchar");
            case DECIMAL -> List.of("decimal");
            case TIME -> List.of("time");
            case DATE_TIME, INSTANT -> List.of("datetime");
            case UUID -> List.of("binary");
            default -> List.of(dialect.type(type));
        };
    }
}
