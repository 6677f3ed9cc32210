package io.bathra.read;

import io.bathra.jdbc.Cursor;
import io.bathra.jdbc.Transaction;
import io.bathra.sql.SqlText;
import java.util.Spliterator;
import java.util.Spliterators.AbstractSpliterator;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.jspecify.annotations.Nullable;

/** Reads rows when they are asked for, and closes itself behind the last one, or when something fails. */
final class CursorStream<R> extends AbstractSpliterator<R> implements AutoCloseable {
    private final CursorPlace place;
    private final Transaction transaction;
    private final Cursor cursor;
    private final Supplier<R> row;
    private boolean closed;

    private CursorStream(CursorPlace place, Transaction transaction, Cursor cursor, Supplier<R> row) {
        super(Long.MAX_VALUE, Spliterator.ORDERED);
        this.place = place;
        this.transaction = transaction;
        this.cursor = cursor;
        this.row = row;
    }

    /**
     * Executes a query now, and reads its rows later.
     *
     * @param rows what makes a row of the cursor's place
     */
    static <R> Stream<R> of(
            CursorPlace place,
            Transaction transaction,
            CharSequence cause,
            SqlText text,
            Function<Cursor, Supplier<R>> rows) {
        @Nullable Cursor[] opened = new Cursor[1];
        try {
            CursorStream<R> stream = place.reading(() -> {
                Cursor cursor = transaction.cursor(cause, text, true);
                opened[0] = cursor;
                return new CursorStream<>(place, transaction, cursor, rows.apply(cursor));
            });
            return StreamSupport.stream(stream, false).onClose(stream::close);
        } catch (RuntimeException e) {
            if (opened[0] != null) {
                opened[0].close();
            }
            place.end(transaction, false);
            throw e;
        }
    }

    @Override
    public boolean tryAdvance(Consumer<? super R> action) {
        if (closed) {
            return false;
        }
        R next;
        try {
            if (!place.reading(cursor::next)) {
                close();
                return false;
            }
            next = place.reading(row);
        } catch (RuntimeException e) {
            close(false);
            throw e;
        }
        action.accept(next);
        return true;
    }

    @Override
    public void close() {
        close(true);
    }

    private void close(boolean done) {
        if (!closed) {
            closed = true;
            cursor.close();
            place.end(transaction, done);
        }
    }
}
