package io.bathra.read;

import io.bathra.error.BathraException;
import io.bathra.jdbc.Cursor;
import io.bathra.jdbc.RowReader;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ModelEntity;
import io.bathra.sql.SqlText;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** The rows of a plain query as whatever was asked for. */
public abstract class PlainRows<R> {

    final SqlLevel level;
    final Transaction transaction;
    final SqlText text;

    private PlainRows(SqlLevel level, Transaction transaction, SqlText text) {
        this.level = level;
        this.transaction = transaction;
        this.text = text;
    }

    public static <R> PlainRows<R> of(SqlLevel level, Transaction transaction, Class<R> type, SqlText text) {
        Optional<ModelEntity<R>> entity = level.model().entityIfAny(type);
        return entity.isPresent()
                ? new Entities<>(level, transaction, text, entity.get())
                : new Values<>(level, transaction, text, type);
    }

    public abstract List<R> list();

    public abstract Stream<R> stream();

    /** Records, single values, or maps. */
    private static final class Values<R> extends PlainRows<R> {
        private final Class<R> type;

        Values(SqlLevel level, Transaction transaction, SqlText text, Class<R> type) {
            super(level, transaction, text);
            this.type = type;
        }

        @Override
        public List<R> list() {
            List<R> rows = new ArrayList<>();
            try (Cursor cursor = transaction.cursor(Causes.SQL, text, false)) {
                RowForm<R> form = cursor.use(result -> RowForm.of(type, result, transaction));
                while (cursor.next()) {
                    rows.add(cursor.use(form::row));
                }
            }
            return rows;
        }

        @Override
        public Stream<R> stream() {
            return CursorStream.of(level, transaction, Causes.SQL, text, cursor -> {
                RowForm<R> form = cursor.use(result -> RowForm.of(type, result, transaction));
                return () -> cursor.use(form::row);
            });
        }
    }

    private static final class Entities<E> extends PlainRows<E> {
        private final ModelEntity<E> entity;

        Entities(SqlLevel level, Transaction transaction, SqlText text, ModelEntity<E> entity) {
            super(level, transaction, text);
            this.entity = entity;
        }

        @Override
        public List<E> list() {
            EntityReader reader = level.reader(transaction);
            List<E> objects = reader.readNamed(Causes.SQL, entity, text).stream()
                    .map(Entry::object)
                    .toList();
            level.release(reader);
            return objects;
        }

        @Override
        public Stream<E> stream() {
            if (!entity.parts().isEmpty()) {
                level.end(transaction, false);
                throw new BathraException(
                        entity.name() + " has parts, which would be read while this stream is open; list()"
                                + " the statement, or read records\n  statement: " + text.sql());
            }
            return CursorStream.of(level, transaction, Causes.SQL, text, cursor -> {
                RowReader columns = cursor.use(result -> NamedColumns.ofEntity(transaction, entity, result));
                UntrackedRows<E> rows = new UntrackedRows<>(level.model(), transaction, entity);
                return () -> cursor.use(result -> rows.of(columns.row(result, 1)));
            });
        }
    }
}
