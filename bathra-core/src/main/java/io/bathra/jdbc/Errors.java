package io.bathra.jdbc;

import io.bathra.attr.Secret;
import io.bathra.catalogue.DriverWords;
import io.bathra.error.BathraException;
import io.bathra.error.CheckViolation;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.ConstraintViolation.Place;
import io.bathra.error.Deadlock;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.error.LockTimeout;
import io.bathra.error.NotNullViolation;
import io.bathra.error.SerializationFailure;
import io.bathra.error.StatementException;
import io.bathra.error.StatementTimeout;
import io.bathra.error.UniqueViolation;
import java.sql.SQLException;
import org.jspecify.annotations.Nullable;

/** Makes exceptions of ours of what a driver throws, in the words of the model. */
final class Errors {
    private final Database database;
    private final ConstraintCatalogue constraints;
    private final String name;

    Errors(Database database, ConstraintCatalogue constraints) {
        this.database = database;
        this.constraints = constraints;
        this.name = database.dialect().name();
    }

    /** The exception of ours for an error of a statement. */
    BathraException translate(SQLException thrown, Shown statement) {
        SQLException telling = mostTelling(thrown);
        String sql = statement.sql();
        String table = statement.table();
        boolean secret = constraints.touchesSecrets(statement);
        SQLException e = secret ? withoutText(telling) : telling;
        return switch (database.failure(telling)) {
            case UNIQUE -> duplicate(place(telling, table, secret), sql, e);
            case FOREIGN_KEY -> new ForeignKeyViolation(place(telling, table, secret), sql, e);
            case NOT_NULL -> new NotNullViolation(place(telling, table, secret), sql, e);
            case CHECK -> new CheckViolation(place(telling, table, secret), sql, e);
            case CONNECTION_LOST ->
                new ConnectionLostException(
                        "the connection to " + name + " was lost (" + DriverWords.of(e)
                                + "); whatever this unit of work had not committed is rolled back there."
                                + " Close the unit and do the work again in a new one",
                        sql,
                        e);
            case DEADLOCK -> new Deadlock(sql, database.endsTransaction(Failure.DEADLOCK), e);
            case SERIALIZATION -> new SerializationFailure(sql, true, e);
            case LOCK_TIMEOUT -> new LockTimeout(sql, database.endsTransaction(Failure.LOCK_TIMEOUT), e);
            case STATEMENT_TIMEOUT -> new StatementTimeout(sql, database.endsTransaction(Failure.STATEMENT_TIMEOUT), e);
            case OTHER -> {
                String explained = database.explained(e);
                yield new StatementException(
                        explained != null ? explained : name + " refused a statement: " + DriverWords.of(e), sql, e);
            }
        };
    }

    /**
     * While nodes of a cluster come and go, a MariaDB sequence gives the keys of one to another: the step by which
     * they stay apart is the number of nodes. Whoever comes second draws others the next time.
     */
    private BathraException duplicate(Place place, String sql, SQLException e) {
        return database.isOneOfSeveral() && constraints.isDrawnKey(place)
                ? new SerializationFailure(
                        "two servers of the cluster have drawn the same key of " + place.entity() + ", " + place.value()
                                + ", as may be while servers come and go; do the work again in a new unit",
                        sql,
                        true,
                        e)
                : new UniqueViolation(place, sql, e);
    }

    private Place place(SQLException e, @Nullable String table, boolean secret) {
        Place place = database.place(e, table, constraints);
        return secret && place.value() != null
                ? new Place(
                        place.entity(),
                        place.attributes(),
                        Secret.hide(place.value()).toString(),
                        place.constraint())
                : place;
    }

    /** Drivers put whole rows into their texts. */
    private static SQLException withoutText(SQLException e) {
        SQLException copy = new SQLException(
                "the text is withheld, since the statement touches secret attributes",
                e.getSQLState(),
                e.getErrorCode());
        copy.setStackTrace(e.getStackTrace());
        return copy;
    }

    /** A batch wraps what happened to one of its rows. */
    private SQLException mostTelling(SQLException e) {
        for (SQLException next = e; next != null; next = next.getNextException()) {
            if (database.failure(next) != Failure.OTHER) {
                return next;
            }
        }
        return e;
    }
}
