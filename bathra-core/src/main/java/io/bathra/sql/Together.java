package io.bathra.sql;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** How a server takes several statements in one text, so that they need one trip. Pure code. */
public abstract class Together {
    /** How an error of a part begins that has not concerned as many rows as it should; its number follows. */
    public static final String MISSED = "bathra:p";

    /** For a part that may concern any number of rows. */
    public static final int ANY_ROWS = -1;

    /** A program sends few texts again and again; to put one together costs as much as to send it. */
    private static final int REMEMBERED = 1_000;

    private final Remembered<Asked, String> texts = new Remembered<>(REMEMBERED);

    Together() {}

    /**
     * One of several statements that write.
     *
     * @param sql its text, with placeholders
     * @param rows how many rows it has to concern, or all fails; {@link #ANY_ROWS} for any number
     */
    public record Part(String sql, int rows) {
        @Override
        public boolean equals(@Nullable Object other) {
            return other instanceof Part that && rows == that.rows && sql.equals(that.sql);
        }

        @Override
        public int hashCode() {
            return sql.hashCode() * 31 + rows;
        }
    }

    /** How many parts a text may have. */
    public abstract int most();

    /**
     * Statements that write, one after the other; the first that fails ends all.
     *
     * @param before what is executed before, such as a savepoint
     * @param after what is executed after
     */
    public final String writing(List<String> before, List<Part> parts, List<String> after) {
        Asked asked = new Asked(before, parts, after);
        String known = texts.known(asked);
        return known != null ? known : texts.keep(asked, written(before, parts, after));
    }

    abstract String written(List<String> before, List<Part> parts, List<String> after);

    /** Asks for the number of the part that was executed last; null where a session does not count them. */
    public @Nullable String lastPart() {
        return null;
    }

    /** Whether an insert may write fewer rows than it was given, and yet not fail. */
    public abstract boolean guardsInserts();

    /** What a text is made of; the lists are nobody else's. */
    private record Asked(List<String> before, List<Part> parts, List<String> after) {
        @Override
        public boolean equals(@Nullable Object other) {
            return other instanceof Asked that
                    && parts.equals(that.parts)
                    && after.equals(that.after)
                    && before.equals(that.before);
        }

        @Override
        public int hashCode() {
            return (parts.hashCode() * 31 + after.hashCode()) * 31 + before.hashCode();
        }
    }

    /** Whether what looks how many rows a part has concerned answers with a row. */
    public abstract boolean guardsAnswer();

    /** Whether a query can be sent behind others. */
    public boolean takes(String query) {
        return true;
    }

    /** Queries behind statements that answer with nothing. */
    public final String reading(List<String> before, List<String> queries) {
        Asked asked = new Asked(before, List.of(), queries);
        String known = texts.known(asked);
        return known != null ? known : texts.keep(asked, read(before, queries));
    }

    abstract String read(List<String> before, List<String> queries);

    /** What begins a transaction, before anything else is executed in it. */
    public abstract List<String> opening(Opening opening);

    /** What stands before each statement, for limits that would outlast the transaction otherwise; empty for nothing. */
    public String beforeEach(Opening opening) {
        return "";
    }

    /**
     * What a transaction is to be.
     *
     * @param level the level of isolation as SQL names it; empty for that of the session
     * @param upToDate whether the server, one of several, is to wait until it has what was committed on any of them
     * @param lockMillis how long to wait for what others hold; 0 for as long as the session does
     * @param statementMillis how long a statement may take; 0 for as long as the session lets it
     */
    public record Opening(String level, boolean readOnly, boolean upToDate, long lockMillis, long statementMillis) {}

    /** Statements alone. */
    public abstract String all(List<String> statements);
}
