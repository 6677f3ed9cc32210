package io.bathra.jdbc;

import io.bathra.catalogue.Catalogue;
import io.bathra.catalogue.MariaDbCatalogue;
import io.bathra.error.BathraException;
import io.bathra.error.ConstraintViolation.Place;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import io.bathra.mapping.Mapping;
import io.bathra.schema.Schema;
import io.bathra.sql.MariaDbDialect;
import io.bathra.sql.Together;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Objects;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.mariadb.jdbc.util.constants.ServerStatus;

/** The driver of MariaDB. */
final class MariaDbDatabase extends TextualDatabase {
    private static final Pattern DUPLICATE = Pattern.compile("Duplicate entry '(.*)' for key '([^']+)'");
    private static final Pattern CONSTRAINT = Pattern.compile("CONSTRAINT `([^`]+)`");
    private static final Pattern COLUMN = Pattern.compile("(?:Column|Field) '([^']+)'");

    /** Asks whether the server is a node of a cluster; those that were built without know no such variable. */
    private static final String CLUSTER = "select count(*) from information_schema.system_variables"
            + " where variable_name = 'WSREP_ON' and global_value = 'ON'";

    /** The driver has a new connection, and what was done on the old one is gone. */
    private static final String RECONNECTED = "25S03";

    /** How positions begin. */
    private static final String GTID = "gtid-";

    /** A node has lost the others in the middle of a transaction. */
    private static final String OUT_OF_CLUSTER =
            "Error while appending streaming replication fragment(provider status: ";

    private static final int DUPLICATE_ENTRY = 1062;
    private static final int ROW_IS_REFERENCED = 1451;
    private static final int NO_REFERENCED_ROW = 1452;
    private static final int COLUMN_CANNOT_BE_NULL = 1048;
    private static final int FIELD_HAS_NO_DEFAULT = 1364;
    private static final int CANNOT_CREATE = 1005;
    private static final int SCHEMA_IS_THERE = 1007;
    private static final int TABLE_IS_THERE = 1050;
    private static final int INDEX_IS_THERE = 1061;
    private static final int FOREIGN_KEY_IS_THERE = 1826;
    private static final int ROW_TOO_WIDE = 1118;
    private static final int SERVER_IS_READ_ONLY = 1290;
    private static final int CHECK_FAILED = 4025;
    private static final int DEADLOCK = 1213;
    private static final int LOCK_WAIT_TIMEOUT = 1205;
    private static final int RECORD_HAS_CHANGED = 1020;
    private static final int STATEMENT_TIMEOUT = 1969;

    private static final int UNKNOWN_ERROR = 1105;
    private static final int ERROR_DURING_COMMIT = 1180;
    private static final int NO_SAVEPOINT = 1305;
    private static final int ROWS_MISSED = 30001;
    private static final Pattern MISSED = Pattern.compile(Together.MISSED + "(\\d+)");

    private final Together together = Objects.requireNonNull(dialect().together());
    private final Levels levels = new Levels();

    private final boolean oneOfSeveral;

    /** The table of commit tokens, as SQL names it; null for none. */
    private final @Nullable String tokens;

    MariaDbDatabase(@Nullable String schema) {
        this(schema, false, null);
    }

    private MariaDbDatabase(@Nullable String schema, boolean oneOfSeveral, @Nullable String tokens) {
        // Given as values, the driver would move date-times that fall into a gap of the JVM's zone; as text they stay.
        super(new MariaDbDialect(schema), new TextTimes(' ', ""));
        this.oneOfSeveral = oneOfSeveral;
        this.tokens = tokens;
    }

    @Override
    Database at(Connection connection) throws SQLException {
        boolean cluster = single(connection, CLUSTER).equals("1");
        if (!connection.getAutoCommit()) {
            connection.rollback();
        }
        return cluster ? new MariaDbDatabase(dialect().schema(), true, null) : this;
    }

    @Override
    public boolean isOneOfSeveral() {
        return oneOfSeveral;
    }

    @Override
    public Database servedBy(Mapping model) {
        String table = model.commitTokens();
        return oneOfSeveral && table != null
                ? new MariaDbDatabase(dialect().schema(), true, dialect().qualified(table))
                : this;
    }

    @Override
    List<String> passingRow() {
        if (tokens == null) {
            return List.of();
        }
        String token = dialect().quote(Schema.TOKEN);
        String value = "'" + UUID.randomUUID() + "'";
        return List.of(
                "insert into " + tokens + " (" + token + ", " + dialect().quote(Schema.TOKEN_TIME) + ") values ("
                        + value + ", utc_timestamp(6))",
                "delete from " + tokens + " where " + token + " = " + value);
    }

    /** Updates count the rows that they have found, whether they have changed them or not. */
    @Override
    boolean writesRows(String sql) {
        return oneOfSeveral
                && ((sql.startsWith("insert ") && !sql.contains(" on duplicate key ")) || sql.startsWith("delete "));
    }

    /** A server that writes no binary log counts nothing. */
    @Override
    @Nullable
    String position(Connection connection) throws SQLException {
        String last = single(connection, "select @@last_gtid");
        return last.isEmpty() ? null : GTID + last;
    }

    @Override
    boolean comesTo(Connection connection, String position, long millis) throws SQLException {
        if (!position.startsWith(GTID)) {
            return super.comesTo(connection, position, millis);
        }
        try (PreparedStatement wait = connection.prepareStatement("select master_gtid_wait(?, ?)")) {
            wait.setString(1, position.substring(GTID.length()));
            wait.setBigDecimal(2, BigDecimal.valueOf(millis, 3));
            try (ResultSet answer = wait.executeQuery()) {
                return answer.next() && answer.getInt(1) == 0;
            }
        } finally {
            if (!connection.getAutoCommit()) {
                connection.rollback();
            }
        }
    }

    @Override
    Catalogue catalogue(Connection connection) {
        return new MariaDbCatalogue(connection, dialect());
    }

    /** After any error the driver takes a transaction for granted; only then the server is asked. */
    @Override
    boolean isUnderWay(Connection connection) throws SQLException {
        return isMarked(connection)
                && single(connection, "select @@in_transaction").equals("1");
    }

    /** The server tells the driver with each answer. */
    private static boolean isMarked(Connection connection) throws SQLException {
        org.mariadb.jdbc.Connection own = own(connection);
        return own != null && (own.getContext().getServerStatus() & ServerStatus.IN_TRANSACTION) != 0;
    }

    private static org.mariadb.jdbc.@Nullable Connection own(Connection connection) throws SQLException {
        return connection.isWrapperFor(org.mariadb.jdbc.Connection.class)
                ? connection.unwrap(org.mariadb.jdbc.Connection.class)
                : null;
    }

    /**
     * What holds for the transaction alone is said where it begins, so that it does not reach others behind a pooler.
     * Auto-commit stays as it is, since to change it takes a trip.
     */
    @Override
    Begun begin(AsItCame connection, Settings settings) {
        Together.Opening opening = settings.opening(oneOfSeveral);
        return new Begun(Limits.said(together.beforeEach(opening)), together.opening(opening));
    }

    /** Under REPEATABLE READ, which is the default, all statements see what the first one has seen. */
    @Override
    boolean readsAlone(AsItCame connection, boolean readOnly) throws SQLException {
        org.mariadb.jdbc.Connection own = own(connection.connection());
        return own != null
                && connection.connection().getAutoCommit()
                && levels.of(own) == Connection.TRANSACTION_READ_COMMITTED;
    }

    /** A driver that counts only rows that have changed would have the guards of the parts fail. */
    @Override
    @Nullable
    Together together(Connection connection) throws SQLException {
        org.mariadb.jdbc.Connection own = own(connection);
        return own != null && !own.getContext().getConf().useAffectedRows() ? together : null;
    }

    /** A block that has failed before its first statement has marked no place, and there is nothing to go back from. */
    @Override
    boolean rollbackToSavepoint(Connection connection, String name, boolean doubtful) throws SQLException {
        try {
            return super.rollbackToSavepoint(connection, name, doubtful);
        } catch (SQLException e) {
            if (doubtful && e.getErrorCode() == NO_SAVEPOINT) {
                return false;
            }
            throw e;
        }
    }

    @Override
    boolean isOver(Connection connection) throws SQLException {
        return own(connection) != null && !isMarked(connection);
    }

    @Override
    int missedPart(SQLException e) {
        Matcher missed = MISSED.matcher(String.valueOf(e.getMessage()));
        return e.getErrorCode() == ROWS_MISSED && missed.find() ? Integer.parseInt(missed.group(1)) : 0;
    }

    /** The session has counted. */
    @Override
    int failedPart(Connection connection, SQLException e, List<Shown> statements) {
        try {
            String part = single(connection, Objects.requireNonNull(together.lastPart()));
            return part.equals("null") ? 0 : Integer.parseInt(part);
        } catch (SQLException gone) {
            e.addSuppressed(gone);
            return 0;
        }
    }

    @Override
    Object toJdbc(ColumnType type, Object value) {
        return type.kind() == Kind.FLOAT ? ((Float) value).doubleValue() : super.toJdbc(type, value);
    }

    @Override
    ColumnReader newReader(ColumnType type) {
        if (type.kind() == Kind.FLOAT) {
            return (result, index) -> {
                double number = result.getDouble(index);
                return number == 0 && result.wasNull() ? null : (Object) (float) number;
            };
        }
        return switch (type.kind()) { // the driver's own text of a date-time has gone through the JVM's zone
            case DATE_TIME -> MariaDbDatabase::time;
            case INSTANT ->
                (result, index) -> {
                    LocalDateTime time = time(result, index);
                    return time == null ? null : time.toInstant(ZoneOffset.UTC);
                };
            default -> super.newReader(type);
        };
    }

    /** To the driver, the time 0000-00-00 00:00:00 is missing. */
    private static @Nullable LocalDateTime time(ResultSet result, int index) throws SQLException {
        LocalDateTime time = result.getObject(index, LocalDateTime.class);
        String text = time == null ? result.getString(index) : null;
        if (text != null) {
            throw new BathraException("a row holds '" + text + "', which is no time; mend the row");
        }
        return time;
    }

    @Override
    public boolean isThereAlready(SQLException e) {
        return switch (e.getErrorCode()) {
            case TABLE_IS_THERE, INDEX_IS_THERE, SCHEMA_IS_THERE, FOREIGN_KEY_IS_THERE -> true;
            case CANNOT_CREATE -> String.valueOf(e.getMessage()).contains("errno: 121"); // a foreign key of the name
            default -> false;
        };
    }

    @Override
    boolean takesNoWrites(SQLException e) {
        return e.getErrorCode() == SERVER_IS_READ_ONLY || super.takesNoWrites(e);
    }

    @Override
    @Nullable
    String explained(SQLException e) {
        String limit = clusterLimit(e);
        if (limit != null) {
            return "the transaction writes more than a cluster takes at once (" + limit
                    + "), and nothing was committed;"
                    + " do it in several units of work or bulk calls, or raise the limit on all nodes";
        }
        return e.getErrorCode() == ROW_TOO_WIDE
                ? "a row of this table is wider than MariaDB keeps: 65535 bytes as declared, four for each character of a"
                        + " text with a length, and about 8000 without long texts; declare long ones text(), shorten"
                        + " length(...), or give some attributes a table of their own"
                : super.explained(e);
    }

    private static boolean isOutOfCluster(SQLException e) {
        return String.valueOf(e.getMessage()).contains(OUT_OF_CLUSTER);
    }

    /** The setting of the cluster that a transaction has gone beyond; null for none. */
    private static @Nullable String clusterLimit(SQLException e) {
        String message = String.valueOf(e.getMessage());
        if (e.getErrorCode() != UNKNOWN_ERROR && e.getErrorCode() != ERROR_DURING_COMMIT) {
            return null;
        }
        if (message.contains("Maximum writeset size exceeded")) {
            return "wsrep_max_ws_size";
        }
        return message.contains("wsrep_max_ws_rows exceeded") ? "wsrep_max_ws_rows" : null;
    }

    @Override
    Failure failure(SQLException e) {
        if (RECONNECTED.equals(e.getSQLState())) {
            return Failure.CONNECTION_LOST;
        }
        return switch (e.getErrorCode()) {
            case DUPLICATE_ENTRY -> Failure.UNIQUE;
            case ROW_IS_REFERENCED, NO_REFERENCED_ROW -> Failure.FOREIGN_KEY;
            case COLUMN_CANNOT_BE_NULL, FIELD_HAS_NO_DEFAULT -> Failure.NOT_NULL;
            case CHECK_FAILED -> Failure.CHECK;
            case DEADLOCK -> Failure.DEADLOCK;
            case LOCK_WAIT_TIMEOUT -> Failure.LOCK_TIMEOUT;
            case STATEMENT_TIMEOUT -> Failure.STATEMENT_TIMEOUT;
            case RECORD_HAS_CHANGED -> Failure.SERIALIZATION;
            default -> isOutOfCluster(e) ? Failure.CONNECTION_LOST : super.failure(e);
        };
    }

    @Override
    Place place(SQLException e, @Nullable String table, ConstraintCatalogue constraints) {
        String message = String.valueOf(e.getMessage());
        Matcher duplicate = DUPLICATE.matcher(message);
        if (duplicate.find()) {
            String name = duplicate.group(2).equals("PRIMARY") ? constraints.primaryKey(table) : duplicate.group(2);
            return constraints.constraint(name, table, duplicate.group(1));
        }
        Matcher column = COLUMN.matcher(message);
        if (failure(e) == Failure.NOT_NULL && column.find()) {
            return constraints.column(table, column.group(1));
        }
        Matcher constraint = CONSTRAINT.matcher(message);
        return constraint.find() ? constraints.constraint(constraint.group(1), message, null) : unknownPlace();
    }
}
