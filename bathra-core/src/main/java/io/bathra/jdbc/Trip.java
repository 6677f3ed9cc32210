package io.bathra.jdbc;

import io.bathra.attr.Secret;
import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.ConstraintViolation;
import io.bathra.error.ContentionException;
import io.bathra.error.StatementTimeout;
import io.bathra.jdbc.Recorder.Execution;
import io.bathra.sql.Parameter;
import io.bathra.sql.SqlText;
import io.bathra.sql.Together;
import io.bathra.sql.WriteForm;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.Operation;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Statements that write rows, and wait to be sent together. None is executed when one before it has failed, or has
 * concerned fewer rows than it should.
 */
public final class Trip {
    /** So many values, and bytes of them, go over together; more are worth a trip of their own. */
    private static final int MOST_VALUES = 5_000;

    private static final int MOST_BYTES = 200_000;
    private static final int BYTES_OF_A_VALUE = 24;
    private static final int BYTES_OF_A_CHARACTER = 3;
    private static final int BYTES_OF_A_BYTE = 2; // some have to be escaped

    private static final Shown COMMIT = Shown.plain("commit");

    private final Transaction transaction;
    private final Together together;
    private final Binding binding;
    private final List<Part> parts = new ArrayList<>(4);

    private List<Behind> questions = List.of();

    /** How many statements the parts are. */
    private int statements;

    private int values;
    private long bytes;

    /**
     * Something that is written by one statement, or by the same one again for each row.
     *
     * @param times how often the statement is executed
     * @param rows how many rows it writes, all together
     * @param missed what is thrown when other than all rows are concerned; null where that is all right
     */
    private record Part(
            int step,
            @Nullable Operation operation,
            CharSequence cause,
            Shown shown,
            @Nullable String path,
            int times,
            int rows,
            Binder binder,
            @Nullable Supplier<RuntimeException> missed) {}

    /** Binds the values of a part. */
    private interface Binder {
        /** Tells where the next part begins. */
        int bind(PreparedStatement statement, int from) throws SQLException;
    }

    /**
     * What is asked behind all that is written.
     *
     * @param end is run when all of the answer has come
     */
    private record Behind(
            Asked asked, Shown shown, @Nullable String path, Runnable end) {}

    private Trip(Transaction transaction, Together together) {
        this.transaction = transaction;
        this.together = together;
        this.binding = new Binding(transaction.database());
    }

    /** A trip with nothing to send yet; null where statements are sent one by one. */
    static @Nullable Trip of(Transaction transaction) {
        transaction.line().begin();
        Together together = transaction.line().together();
        return together == null ? null : new Trip(transaction, together);
    }

    /** Whether there is nothing to send. */
    public boolean isEmpty() {
        return parts.isEmpty();
    }

    private static long bytes(WriteForm form, List<@Nullable Object[]> rows) {
        List<Parameter> parameters = form.parameters();
        long bytes = 0;
        for (int i = 0; i < rows.size(); i++) {
            for (int j = 0; j < parameters.size(); j++) {
                Object value = Secret.open(parameters.get(j).in(rows.get(i)));
                bytes += BYTES_OF_A_VALUE;
                if (value instanceof String text) {
                    bytes += (long) text.length() * BYTES_OF_A_CHARACTER;
                } else if (value instanceof byte[] binary) {
                    bytes += (long) binary.length * BYTES_OF_A_BYTE;
                }
            }
        }
        return bytes;
    }

    /**
     * Adds rows, after sending what there is before when it becomes too much.
     *
     * @param missed what is thrown when other than all rows are concerned; null where that is all right
     * @return false when they cannot be sent with others, and are not added
     */
    public boolean add(
            int step,
            @Nullable Operation operation,
            CharSequence cause,
            WriteForm form,
            List<@Nullable Object[]> rows,
            @Nullable Supplier<RuntimeException> missed) {
        boolean batch = form.binding() == WriteForm.Binding.BATCH;
        int times = batch ? rows.size() : 1;
        int moreValues = rows.size() * form.parameters().size();
        if (form.binding() == WriteForm.Binding.COPY
                || transaction.database().takesApart(form.table())
                || rows.size() > form.chunk()
                || times > together.most()
                || moreValues > MOST_VALUES) {
            return false;
        }
        long moreBytes = bytes(form, rows);
        if (moreBytes > MOST_BYTES) {
            return false;
        }
        if (statements + times > together.most()
                || values + moreValues > MOST_VALUES
                || bytes + moreBytes > MOST_BYTES) {
            send(false);
        }
        parts.add(new Part(
                step,
                operation,
                cause,
                Shown.of(form, rows.size(), form.sql().apply(batch ? 1 : rows.size())),
                form.binding().toString(),
                times,
                rows.size(),
                (statement, from) -> bind(statement, from, form, rows),
                missed));
        statements += times;
        values += moreValues;
        bytes += moreBytes;
        return true;
    }

    private int bind(PreparedStatement statement, int from, WriteForm form, List<@Nullable Object[]> rows)
            throws SQLException {
        if (form.binding() == WriteForm.Binding.ARRAYS) {
            return binding.arrays(statement, from, form.parameters(), rows);
        }
        int index = from;
        for (int i = 0; i < rows.size(); i++) {
            index = binding.row(statement, index, form.parameters(), rows.get(i));
        }
        return index;
    }

    /** Adds a short statement of our own that writes. */
    public void add(CharSequence cause, SqlText text) {
        parts.add(new Part(
                0,
                null,
                cause,
                Shown.of(text),
                null,
                1,
                1,
                (statement, from) -> binding.all(statement, text.params(), from),
                null));
        statements++;
    }

    /**
     * Asks something behind all that is written.
     *
     * @param path the word for the way; null for none
     * @param end is run when all of the answer has come
     */
    void ask(Asked question, @Nullable String path, Runnable end) {
        questions = questions.isEmpty() ? new ArrayList<>(2) : questions;
        questions.add(new Behind(question, Shown.of(question.text()), path, end));
    }

    /**
     * Sends all that waits, if there is anything.
     *
     * @param committing whether a commit goes with it, after which there is no transaction any more
     * @throws FailedSomewhere when nobody can tell what has failed
     */
    public void send(boolean committing) {
        if (parts.isEmpty()) {
            return;
        }
        List<Behind> asked = questions;
        questions = List.of();
        Connection open = transaction.line().begin();
        transaction.markWritten();
        Recorder trace = transaction.trace();
        trace.beginTogether();
        Waiting.Going before = transaction.line().waiting().go();
        List<String> after = new ArrayList<>(asked.size() + 1);
        asked.forEach(one -> after.add(one.shown.text()));
        if (committing) {
            after.add("commit");
        }
        String sql = together.writing(before.sql(), texts(), after);
        List<Execution> executions = begin(trace, asked, committing);
        trace.allHaveBegun();
        try {
            execute(open, sql, asked);
            if (!committing) { // else it was too late to stop it
                transaction.refuseStopped(Shown.plain(sql));
            }
        } catch (SQLException e) {
            throw transaction.line().failed(before, executions, failure(open, e, asked, committing));
        } catch (RuntimeException | Error e) {
            transaction.line().failed(before, executions, e);
            throw e;
        }
        before.ended();
        Database database = transaction.database();
        for (int i = 0; i < executions.size(); i++) {
            int question = i - parts.size();
            long rows = question < 0 ? parts.get(i).rows : 0;
            if (question < 0
                    && parts.get(i).missed != null
                    && database.writesRows(parts.get(i).shown.text())) {
                transaction.markRowWritten();
            }
            transaction.ended(executions.get(i), rows, i > 0);
        }
        asked.forEach(one -> one.end.run());
        parts.clear();
        statements = 0;
        values = 0;
        bytes = 0;
        if (committing) {
            transaction.committedTogether();
        }
    }

    private List<Together.Part> texts() {
        List<Together.Part> texts = new ArrayList<>(statements);
        for (int i = 0; i < parts.size(); i++) {
            Part part = parts.get(i);
            boolean guarded = part.missed != null && (part.operation != Operation.INSERT || together.guardsInserts());
            int each = guarded ? part.rows / part.times : Together.ANY_ROWS;
            Together.Part text = new Together.Part(part.shown.text(), each);
            for (int j = 0; j < part.times; j++) {
                texts.add(text);
            }
        }
        return texts;
    }

    private List<Execution> begin(Recorder trace, List<Behind> asked, boolean committing) {
        List<Execution> executions = new ArrayList<>(parts.size() + asked.size() + 1);
        for (int i = 0; i < parts.size(); i++) {
            Part part = parts.get(i);
            trace.carriesOut(part.step, part.operation);
            executions.add(transaction.begin(Kind.STATEMENT, part.cause, part.shown, part.path));
        }
        trace.carriesOut(0, null);
        for (Behind one : asked) {
            executions.add(transaction.begin(Kind.STATEMENT, one.asked.cause(), one.shown, one.path));
        }
        if (committing) {
            executions.add(transaction.begin(Kind.COMMIT, "commit", COMMIT, null));
        }
        return executions;
    }

    @SuppressWarnings("try") // the limit is there to end with the statement
    private void execute(Connection open, String sql, List<Behind> asked) throws SQLException {
        try (PreparedStatement statement =
                        open.prepareStatement(transaction.limits().within(sql));
                Limits.Running limit = transaction.running(statement)) {
            int index = 1;
            for (int i = 0; i < parts.size(); i++) {
                index = parts.get(i).binder.bind(statement, index);
            }
            for (Behind one : asked) {
                index = binding.all(statement, one.asked.text().params(), index);
            }
            boolean rows = statement.execute();
            if (!asked.isEmpty()) {
                handOver(statement, rows, asked);
            }
        }
    }

    /** The answers to the questions come behind those of the guards, if these answer. */
    private void handOver(PreparedStatement statement, boolean rows, List<Behind> asked) throws SQLException {
        int before = together.guardsAnswer() ? guarded() : 0;
        int next = 0;
        boolean more = rows;
        while (more || statement.getUpdateCount() >= 0) {
            if (more && before > 0) {
                before--;
            } else if (more) {
                Statements.handOver(
                        Objects.requireNonNull(statement.getResultSet()),
                        asked.get(next++).asked.handler());
            }
            more = statement.getMoreResults();
        }
    }

    private int guarded() {
        int guarded = 0;
        for (Part part : parts) {
            guarded += part.missed == null ? 0 : part.times;
        }
        return guarded;
    }

    /** What is to be thrown; the transaction is still to be rolled back, as far as there is one. */
    private RuntimeException failure(Connection open, SQLException e, List<Behind> asked, boolean committing) {
        int missed = transaction.database().missedPart(e);
        Part fewer = missed == 0 ? null : part(missed);
        if (fewer != null && fewer.missed != null) {
            return fewer.missed.get();
        }
        BathraException unplaced = transaction.translate(e, whole());
        if (unplaced instanceof ConnectionLostException) {
            return committing ? new CommitUnknownException(unplaced) : unplaced;
        }
        List<Shown> all = new ArrayList<>(statements);
        for (Part part : parts) {
            for (int i = 0; i < part.times; i++) {
                all.add(part.shown);
            }
        }
        int failed = transaction.database().failedPart(open, e, all);
        Part place = failed == 0 ? null : part(failed);
        if (place != null) {
            return transaction.translate(e, place.shown);
        }
        if (failed > statements && failed <= statements + asked.size()) {
            return transaction.translate(e, asked.get(failed - statements - 1).shown);
        }
        if (committing && (failed > statements || transaction.line().isUnscathed())) {
            return new CommitFailed(transaction.translate(e, COMMIT));
        }
        boolean told = unplaced instanceof ConstraintViolation
                || unplaced instanceof ContentionException
                || unplaced instanceof StatementTimeout;
        if (told) {
            return unplaced;
        }
        boolean onlyTogether = transaction.database().isOnlyTogether(e);
        if (onlyTogether) {
            parts.forEach(part -> transaction.database().takeApart(String.valueOf(part.shown.table())));
        }
        return new FailedSomewhere(unplaced, onlyTogether);
    }

    /** The part that a statement belongs to, by its number from 1; null where there is none such. */
    private @Nullable Part part(int statement) {
        int last = 0;
        for (Part part : parts) {
            last += part.times;
            if (statement <= last) {
                return part;
            }
        }
        return null;
    }

    private Shown whole() {
        Part first = Objects.requireNonNull(parts.get(0));
        return parts.size() == 1
                ? first.shown
                : Shown.plain(first.shown.sql() + " (and " + (parts.size() - 1) + " more, sent together)");
    }
}
