package io.bathra.catalogue;

import io.bathra.attr.DeleteRule;
import io.bathra.schema.LiveColumn;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Table;
import io.bathra.schema.Twin;
import io.bathra.sql.Definitions;
import io.bathra.sql.Dialect;
import io.bathra.sql.PostgresDialect;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** The catalogue of PostgreSQL, without the views of the standard, which look long and tell less. */
public final class PostgresCatalogue extends Catalogue {
    private static final String OF_SCHEMA = " join pg_namespace n on n.oid = c.relnamespace and n.nspname = ?";

    /** Where the default collation is the server's own, its locale tells the order. */
    private static final String COLLATION = "case when o.collname <> 'default' then o.collname"
            + " when o.collname is null then null"
            + " else (select case when coalesce(to_jsonb(d) ->> 'datlocprovider', 'c') = 'c' then d.datcollate"
            + " else coalesce(to_jsonb(d) ->> 'datlocale', to_jsonb(d) ->> 'daticulocale') end"
            + " from pg_database d where d.datname = current_database()) end";

    /** Both come out of the number that the server keeps them in. */
    private static final String SIZE = "case when a.atttypmod < 0 then 0"
            + " when t.typname in ('varchar', 'bpchar') then a.atttypmod - 4"
            + " when t.typname = 'numeric' then ((a.atttypmod - 4) >> 16) & 65535 else 0 end";

    private static final String SCALE = "case when a.atttypmod >= 0 and t.typname = 'numeric'"
            + " then (((a.atttypmod - 4) & 2047) # 1024) - 1024 else 0 end";

    private static final String COLUMNS = "select c.relname, a.attname, t.typname, " + SIZE + ", " + SCALE
            + ", a.attnotnull, " + COLLATION + ", a.attidentity <> '', a.attgenerated <> '',"
            + " pg_get_expr(e.adbin, e.adrelid)"
            + " from pg_class c" + OF_SCHEMA
            + " join pg_attribute a on a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped"
            + " join pg_type t on t.oid = a.atttypid left join pg_collation o on o.oid = a.attcollation"
            + " left join pg_attrdef e on e.adrelid = c.oid and e.adnum = a.attnum"
            + " where c.relkind in ('r', 'p', 'v', 'm', 'f') order by c.oid, a.attnum";

    private static final String CONSTRAINTS = "select c.relname, k.conname, k.contype, a.attname, r.relname, b.attname,"
            + " k.confdeltype, k.condeferrable, case k.contype when 'c' then pg_get_constraintdef(k.oid) end"
            + " from pg_constraint k join pg_class c on c.oid = k.conrelid" + OF_SCHEMA
            + " left join lateral unnest(k.conkey, k.confkey) with ordinality as u(own, other, place)"
            + " on k.contype <> 'c'"
            + " left join pg_attribute a on a.attrelid = k.conrelid and a.attnum = u.own"
            + " left join pg_class r on r.oid = k.confrelid"
            + " left join pg_attribute b on b.attrelid = k.confrelid and b.attnum = u.other"
            + " where k.contype in ('p', 'u', 'f', 'c') order by c.oid, k.oid, u.place";

    /** Those that hold all rows, and that a build has not left behind half done. */
    private static final String INDEXES = "select c.relname, i.relname, a.attname,"
            + " x.indisunique and not exists (select 1 from pg_constraint k where k.conindid = x.indexrelid"
            + " and k.contype in ('p', 'u'))"
            + " from pg_index x join pg_class i on i.oid = x.indexrelid join pg_class c on c.oid = x.indrelid"
            + OF_SCHEMA + " cross join lateral generate_series(0, x.indnkeyatts - 1) as place"
            + " left join pg_attribute a on a.attrelid = c.oid and a.attnum = x.indkey[place]"
            + " where x.indpred is null and x.indisvalid order by c.oid, i.oid, place";

    /** All sequences, with the columns that they belong to. */
    private static final String SEQUENCES = "select c.relname,"
            + " case when has_sequence_privilege(c.oid, 'select, usage') then pg_sequence_last_value(c.oid) end"
            + " + s.seqincrement, has_sequence_privilege(c.oid, 'select'), t.relname, a.attname"
            + " from pg_sequence s join pg_class c on c.oid = s.seqrelid" + OF_SCHEMA
            + " left join pg_depend d on d.classid = 'pg_class'::regclass and d.objid = c.oid"
            + " and d.refclassid = 'pg_class'::regclass and d.deptype in ('a', 'i')"
            + " left join pg_class t on t.oid = d.refobjid"
            + " left join pg_attribute a on a.attrelid = d.refobjid and a.attnum = d.refobjsubid";

    /** How many sequences are asked in one statement. */
    private static final int AT_ONCE = 100;

    public PostgresCatalogue(Connection connection, Dialect dialect) {
        super(connection, dialect);
    }

    @Override
    Optional<String> schema() throws SQLException {
        return dialect.schema() == null
                ? one("select current_schema()", List.of())
                : listed("select nspname from pg_namespace");
    }

    @Override
    Map<String, LiveTable> tables(String schema) throws SQLException {
        ListedTables tables = new ListedTables();
        List<String> which = List.of(schema);
        each(COLUMNS, which, row -> {
            boolean computed = row.getBoolean(9);
            String expression = row.getString(10);
            boolean drawn = row.getBoolean(8) || (!computed && isDraw(expression));
            tables.column(
                    row.getString(1),
                    new LiveColumn(
                            row.getString(2),
                            row.getString(3),
                            row.getInt(4),
                            row.getInt(5),
                            row.getBoolean(6),
                            row.getString(7),
                            drawn,
                            computed || drawn ? null : expression,
                            computed ? expression : null));
        });
        each(CONSTRAINTS, which, row -> {
            String table = row.getString(1);
            String name = row.getString(2);
            String column = row.getString(4);
            boolean deferrable = row.getBoolean(8);
            switch (row.getString(3)) {
                case "c" -> tables.check(table, name, row.getString(9));
                case "f" ->
                    tables.foreignKey(
                            table,
                            name,
                            column,
                            row.getString(5),
                            row.getString(6),
                            ruleOf(row.getString(7)),
                            deferrable);
                case "p" -> {
                    tables.key(table, column);
                    tables.unique(table, name, column, deferrable);
                }
                default -> tables.unique(table, name, column, deferrable);
            }
        });
        each(INDEXES, which, row -> {
            tables.index(row.getString(1), row.getString(2), row.getString(3));
            if (row.getBoolean(4)) {
                tables.unique(row.getString(1), row.getString(2), row.getString(3), false);
            }
        });
        return tables.all();
    }

    private static boolean isDraw(@Nullable String expression) {
        return expression != null && expression.startsWith("nextval(");
    }

    private static DeleteRule ruleOf(String letter) {
        return switch (letter) {
            case "c" -> DeleteRule.CASCADE;
            case "n" -> DeleteRule.SET_NULL;
            default -> DeleteRule.RESTRICT;
        };
    }

    /** Temporary tables, of which nothing is left since the transaction goes back. */
    @Override
    Map<String, Twin> twins(Map<Table, LiveTable> tables) throws SQLException {
        boolean alone = connection.getAutoCommit();
        if (alone) {
            connection.setAutoCommit(false);
        }
        try {
            return twinsInTransaction(tables);
        } finally {
            if (alone) {
                connection.rollback();
                connection.setAutoCommit(true);
            }
        }
    }

    private Map<String, Twin> twinsInTransaction(Map<Table, LiveTable> tables) throws SQLException {
        Savepoint before = connection.setSavepoint();
        try {
            Map<String, String> failures = new HashMap<>();
            for (Table table : tables.keySet()) {
                create(table).ifPresent(failure -> failures.put(table.name(), failure));
            }
            String schema = one("select nspname from pg_namespace where oid = pg_my_temp_schema()", List.of())
                    .orElse("");
            Map<String, LiveTable> copies = tables(schema);
            Map<String, Twin> twins = new LinkedHashMap<>();
            tables.forEach((table, live) ->
                    twins.put(table.name(), twin(live, copies.get(table.name()), failures.get(table.name()))));
            return twins;
        } finally {
            connection.rollback(before);
        }
    }

    /** Creates a copy; tells why that does not go. */
    private Optional<String> create(Table table) throws SQLException {
        Definitions definitions = new PostgresDialect("pg_temp").definitions();
        Savepoint before = connection.setSavepoint();
        try (Statement statement = connection.createStatement()) {
            statement.execute(definitions.createTemporary(table.alone(table.name())));
            return Optional.empty();
        } catch (SQLException e) {
            connection.rollback(before);
            return Optional.of(DriverWords.of(e));
        }
    }

    /** A sequence that has not been drawn from since it was set tells where it stands in itself alone. */
    @Override
    Map<String, Standing> standings(String schema) throws SQLException {
        Map<String, Standing> standings = new HashMap<>();
        Map<String, String> owners = new HashMap<>();
        List<String> untouched = new ArrayList<>();
        each(SEQUENCES, List.of(schema), row -> {
            String name = row.getString(1);
            long next = row.getLong(2);
            boolean known = !row.wasNull();
            standings.put(name, known ? Standing.at(next) : Standing.UNKNOWN);
            if (!known && row.getBoolean(3)) {
                untouched.add(name);
            }
            if (row.getString(4) != null) {
                owners.put(row.getString(4) + "." + row.getString(5), name);
            }
        });
        for (int from = 0; from < untouched.size(); from += AT_ONCE) {
            List<String> some = untouched.subList(from, Math.min(untouched.size(), from + AT_ONCE));
            String sql = some.stream()
                    .map(name -> "select ?, last_value from " + identifier(schema) + "." + identifier(name))
                    .collect(Collectors.joining(" union all "));
            each(sql, some, row -> standings.put(row.getString(1), Standing.at(row.getLong(2))));
        }
        owners.forEach((owner, name) -> standings.put(owner, standings.get(name)));
        return standings;
    }

    private static String identifier(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }
}
