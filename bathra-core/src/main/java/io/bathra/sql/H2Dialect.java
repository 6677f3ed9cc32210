package io.bathra.sql;

import io.bathra.model.ColumnType;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredColumn;
import io.bathra.sql.WriteForm.Binding;
import io.bathra.sql.WriteForm.Present;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** H2, from version 2 on. */
public final class H2Dialect extends OwnSequenceDialect {
    /** What statements begin with that commit what was done before them. */
    private static final Set<String> COMMITTING =
            Set.of("alter", "analyze", "comment", "create", "drop", "grant", "revoke", "set", "truncate");

    /**
     * @param schema where the tables are; null for the connection's own
     */
    public H2Dialect(@Nullable String schema) {
        super(schema);
    }

    @Override
    boolean looksThroughListsRowByRow() {
        return true;
    }

    /** It adds what it has found before again and again, until the memory is full. */
    @Override
    boolean endsRecursion() {
        return false;
    }

    @Override
    public String name() {
        return "H2";
    }

    @Override
    String inZone(String instant, ZoneId zone) {
        return "(" + instant + " at time zone "
                + textLiteral(
                        zone.normalized() instanceof ZoneOffset offset
                                ? offset == ZoneOffset.UTC ? "UTC" : offset.getId()
                                : zone.getId())
                + ")";
    }

    @Override
    Lexis lexis() {
        return new Lexis(false, false, true, false, true);
    }

    @Override
    boolean commitsByItself(List<String> words) {
        boolean temporary = words.contains("temporary") && words.contains("transactional");
        return COMMITTING.contains(words.get(0)) && !temporary;
    }

    /** The sequence behind an identity column is hidden, so keys could not be drawn ahead; hence one of our own. */
    @Override
    String nextValue(String sequence) {
        return "next value for " + sequence;
    }

    /** H2 keeps it anyway. */
    @Override
    String computedOptions() {
        return "";
    }

    @Override
    List<String> listedTypes(ColumnType type) {
        return switch (type.kind()) {
            case CHARACTER, STRING, ENUM -> List.of("character varying");
            case BYTES -> List.of("binary varying");
            case LONG_TEXT -> List.of("character large object");
            case DECIMAL -> List.of("numeric");
            case TIME -> List.of("time");
            case DATE_TIME -> List.of("timestamp");
            case INSTANT -> List.of("timestamp with time zone");
            default -> List.of(type(type));
        };
    }

    @Override
    String type(ColumnType type) {
        return switch (type.kind()) {
            case CHARACTER, STRING, ENUM -> type.length() == 0 ? "varchar" : "varchar(" + type.length() + ")";
            case DECIMAL -> "numeric(" + type.precision() + ", " + type.scale() + ")";
            case TIME -> "time(6)";
            case DATE_TIME -> "timestamp(6)";
            case INSTANT -> "timestamp(6) with time zone";
            case UUID -> "uuid";
            case BYTES -> "varbinary";
            case LONG_TEXT -> "clob";
            default -> standardType(type);
        };
    }

    @Override
    public KeyDraw drawValues(String sequence) {
        return new KeyDraw("select next value for " + qualified(sequence) + " from system_range(1, ?)", false, null);
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
        List<StoredColumn> columns = upsert.columns();
        String row = row(columns);
        String head = "select " + quote(upsert.entity().keyColumns().get(0).name()) + " from final table (merge into "
                + qualified(upsert.entity().table()) + " t using (values ";
        String tail = ") s(" + aliases(columns) + ") on " + upsert.sameKey(this, "t", "s") + " when matched and "
                + upsert.overwritten(this, "t") + " is distinct from " + upsert.overwritten(this, "s")
                + " then update set " + upsert.sets(this, "t", "s") + insertUnmatched(columns) + ")";
        return new Upsert.Form(
                new WriteForm(
                        Binding.MULTI_ROW,
                        mostRows(columns),
                        Parameter.of(columns),
                        n -> head + String.join(", ", Collections.nCopies(n, row)) + tail,
                        Present.SKIPPED_WHEN_REPEATED),
                Upsert.Answer.KEY);
    }

    private String row(List<StoredColumn> columns) {
        return columns.stream()
                .map(column -> "cast(? as " + type(column.type()) + ")")
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
        String tail = ") s(" + aliases(columns) + ") on " + sameKey(entity, "t", "s") + insertUnmatched(columns);
        return new WriteForm(
                Binding.MULTI_ROW,
                mostRows(columns),
                Parameter.of(columns),
                n -> head + String.join(", ", Collections.nCopies(n, row)) + tail,
                Present.SKIPPED_WHEN_REPEATED);
    }

    @Override
    public SqlText nextOf(String sequence) {
        String schema = schema();
        return new SqlText(
                "select base_value from information_schema.sequences where sequence_schema = "
                        + (schema == null ? "current_schema" : listed(schema)) + " and sequence_name = "
                        + listed(sequence),
                List.of());
    }

    private String listed(String name) {
        return textLiteral(goesUnquoted(name) ? name.toUpperCase(Locale.ROOT) : name);
    }
}
