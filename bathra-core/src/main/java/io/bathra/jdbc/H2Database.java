package io.bathra.jdbc;

import io.bathra.catalogue.Catalogue;
import io.bathra.catalogue.H2Catalogue;
import io.bathra.error.ConstraintViolation.Place;
import io.bathra.sql.H2Dialect;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.StreamSupport;
import org.h2.engine.Session;
import org.h2.engine.SessionLocal;
import org.h2.jdbc.JdbcConnection;
import org.jspecify.annotations.Nullable;

/** The driver of H2. */
final class H2Database extends Database {
    /** The text around it is translated; what stands in quotes is not. */
    private static final Pattern QUOTED = Pattern.compile("\"((?:[^\"]|\"\")*)\"");

    private static final Pattern VALUES = Pattern.compile("VALUES \\( /\\*.*?\\*/ (.*?) \\)");
    /** One text, and no list of them. */
    private static final Pattern TEXT = Pattern.compile("'((?:[^']|'')*)'");

    private static final String UNCOMMITTED =
            "select contains_uncommitted from information_schema.sessions where session_id = session_id()";
    private static final String QUERY_TIMEOUT =
            "select setting_value from information_schema.settings where setting_name = 'QUERY_TIMEOUT'";

    private static final int SCHEMA_NOT_FOUND = 90079;
    private static final int DATABASE_IS_READ_ONLY = 90097;
    private static final int GENERAL_ERROR = 50000;
    private static final int DEADLOCK = 40001;
    private static final int LOCK_TIMEOUT = 50200;
    private static final int CONSTRAINT_IS_THERE = 90045;
    private static final int SEQUENCE_IS_THERE = 90035;
    private static final int SCHEMA_IS_THERE = 90078;
    private static final int DATABASE_CLOSED = 90121;
    private static final int CONNECTION_BROKEN = 90067;
    private static final int OBJECT_CLOSED = 90007;

    H2Database(@Nullable String schema) {
        super(new H2Dialect(schema));
    }

    @Override
    Catalogue catalogue(Connection connection) {
        return new H2Catalogue(connection, dialect());
    }

    static boolean isInMemory(String url) {
        return url.startsWith("jdbc:h2:mem:");
    }

    /** In this program the driver knows; a server has to be asked. */
    @Override
    boolean isUnderWay(Connection connection) throws SQLException {
        if (connection.getAutoCommit()) {
            return false;
        }
        Session session = connection.isWrapperFor(JdbcConnection.class)
                ? connection.unwrap(JdbcConnection.class).getSession()
                : null;
        return session instanceof SessionLocal
                ? session.hasPendingTransaction()
                : single(connection, UNCOMMITTED).equals("TRUE");
    }

    @Override
    Begun begin(AsItCame connection, Settings settings) throws SQLException {
        if (settings.hasLevel()) {
            connection.isolation(settings.isolation());
        }
        connection.autoCommit(false);
        if (settings.lockMillis() > 0) {
            String before = single(connection.connection(), "call lock_timeout()");
            connection.set("set lock_timeout " + settings.lockMillis(), "set lock_timeout " + before);
        }
        if (settings.statementMillis() > 0) {
            String before = single(connection.connection(), QUERY_TIMEOUT);
            connection.set("set query_timeout " + settings.statementMillis(), "set query_timeout " + before);
        }
        return Begun.PLAIN;
    }

    /**
     * The driver keeps a statement's limit for the whole session, and thereby for what the host does next; it remembers
     * it in seconds, the session in milliseconds.
     */
    @Override
    Limits limitGuest(AsItCame connection, long statementMillis) {
        int seconds = seconds(statementMillis);
        return statement -> {
            String exactly = single(connection.connection(), QUERY_TIMEOUT);
            int before = statement.getQueryTimeout();
            statement.setQueryTimeout(seconds);
            return () -> {
                statement.setQueryTimeout(before);
                execute(connection.connection(), "set query_timeout " + exactly);
            };
        };
    }

    /** Rows are made when they are asked for, not all at once before the first one. */
    @Override
    void beginStream(Connection connection) throws SQLException {
        execute(connection, "set lazy_query_execution 1");
    }

    @Override
    void endStream(Connection connection) throws SQLException {
        execute(connection, "set lazy_query_execution 0");
    }

    /** H2 forgets savepoints by itself. */
    @Override
    void releaseSavepoint(Connection connection, String name) {}

    @Override
    public boolean isThereAlready(SQLException e) {
        return e.getErrorCode() == CONSTRAINT_IS_THERE
                || e.getErrorCode() == SEQUENCE_IS_THERE
                || e.getErrorCode() == SCHEMA_IS_THERE
                || (e.getErrorCode() == GENERAL_ERROR
                        && String.valueOf(e.getMessage()).contains("object already exists")) // at the same moment
                || super.isThereAlready(e);
    }

    @Override
    boolean takesNoWrites(SQLException e) {
        return e.getErrorCode() == DATABASE_IS_READ_ONLY;
    }

    /**
     * When two find the same deadlock at once, the second is told of it in words that nobody was to see; so is one whose
     * transaction somebody else has ended for it, while it was about to go on.
     */
    private static boolean isDeadlockFoundTwice(SQLException e) {
        String told = String.valueOf(e.getMessage());
        return e.getErrorCode() == GENERAL_ERROR
                && (told.contains("transitioned from ROLLING_BACK to ROLLING_BACK")
                        || told.contains("has status ROLLING_BACK, not OPEN"));
    }

    @Override
    Failure failure(SQLException e) {
        if (isDeadlockFoundTwice(e)) {
            return Failure.DEADLOCK;
        }
        return switch (e.getErrorCode()) {
            case DEADLOCK -> Failure.DEADLOCK;
            case LOCK_TIMEOUT -> Failure.LOCK_TIMEOUT;
            case DATABASE_CLOSED, CONNECTION_BROKEN, OBJECT_CLOSED -> Failure.CONNECTION_LOST;
            default -> super.failure(e);
        };
    }

    @Override
    Place place(SQLException e, @Nullable String table, ConstraintCatalogue constraints) {
        Matcher quoted = QUOTED.matcher(String.valueOf(e.getMessage()));
        String detail = quoted.find() ? quoted.group(1) : "";
        if (failure(e) == Failure.NOT_NULL) {
            return constraints.column(table, detail);
        }
        String folded = detail.toLowerCase(Locale.ROOT);
        // An index has the constraint's name with a suffix, so the longest name that fits is meant.
        Optional<String> name = StreamSupport.stream(constraints.names().spliterator(), false)
                .filter(folded::contains)
                .max(Comparator.comparingInt(String::length));
        return name.map(n -> constraints.constraint(n, detail, value(detail))).orElseGet(Database::unknownPlace);
    }

    private static @Nullable String value(String detail) {
        Matcher values = VALUES.matcher(detail);
        String value = values.find() ? values.group(1) : null;
        Matcher text = TEXT.matcher(String.valueOf(value));
        return text.matches() ? text.group(1).replace("''", "'") : value;
    }

    /** Without its schema a table is not there either. */
    @Override
    public boolean isTableMissing(SQLException e) {
        return e.getErrorCode() == SCHEMA_NOT_FOUND || super.isTableMissing(e);
    }
}
