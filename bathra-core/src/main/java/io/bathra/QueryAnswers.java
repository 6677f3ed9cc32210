package io.bathra;

import io.bathra.attr.Accessor;
import io.bathra.error.BathraException;
import io.bathra.jdbc.Cursor;
import io.bathra.jdbc.Transaction;
import io.bathra.jdbc.ValueReader;
import io.bathra.model.Attribute;
import io.bathra.model.BackLinkAttribute;
import io.bathra.model.ColumnAttribute;
import io.bathra.model.LinkAttribute;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredColumn;
import io.bathra.model.ToMany;
import io.bathra.query.Answers;
import io.bathra.query.Assignment;
import io.bathra.query.Beside;
import io.bathra.query.Mark;
import io.bathra.query.Page;
import io.bathra.query.Path;
import io.bathra.query.QueryText;
import io.bathra.query.Question;
import io.bathra.query.Selection;
import io.bathra.query.Term;
import io.bathra.sql.MarkValues;
import io.bathra.sql.Place;
import io.bathra.sql.Select;
import io.bathra.sql.SqlText;
import io.bathra.track.Entry;
import java.lang.reflect.RecordComponent;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Answers the queries of a unit of work; what is pending for the tables that are read goes first. */
final class QueryAnswers implements Answers {
    private final UnitOfWork work;
    private final Store store;
    private final ReadSide side;
    private final Transaction transaction;
    private final Secrets secrets;

    QueryAnswers(UnitOfWork work, Store store, ReadSide side) {
        this.work = work;
        this.store = store;
        this.side = side;
        this.transaction = side.transaction();
        this.secrets = new Secrets(store.model());
    }

    private <E> ModelEntity<E> entity(Question<E> question) {
        return store.model().entity(question.type());
    }

    // ---- entities

    @Override
    public <E> List<E> list(Question<E> question) {
        ModelEntity<E> entity = entity(question);
        refuseLocking(question);
        Select select = store.queries().rows(entity, question);
        ready(select);
        return work.reading(() -> {
            ReadSide into = question.isUntracked() ? side.aside() : side;
            List<E> objects = new ArrayList<>();
            List<Entry<?>> entries = into.reader().readDistinct(cause("", question), entity, select.text(), objects);
            readAlong(into, entity, question, entries);
            if (into != side) {
                into.close();
            }
            return objects;
        });
    }

    private static void readAlong(ReadSide into, ModelEntity<?> entity, Question<?> question, List<Entry<?>> owners) {
        for (Accessor relation : question.along()) {
            Attribute attribute = entity.attribute(relation);
            if (attribute instanceof LinkAttribute link) {
                into.cohorts().readLinks(owners, link);
            } else if (attribute instanceof BackLinkAttribute back) {
                into.cohorts().readBackLinks(owners, back);
            } else if (attribute instanceof ToMany many) {
                into.cohorts().readToManys(owners, many);
            }
        }
    }

    @Override
    public <E> Page<E> page(Question<E> question, int size, @Nullable Mark after) {
        ModelEntity<E> entity = entity(question);
        refuseLocking(question);
        Select select = store.queries().page(entity, question, size + 1, after);
        ready(select);
        return work.reading(() -> {
            ReadSide into = question.isUntracked() ? side.aside() : side;
            List<List<@Nullable String>> marks = new ArrayList<>();
            List<Entry<E>> entries = into.reader()
                    .read(
                            cause("", question),
                            entity,
                            select.text(),
                            (entry, result, index) -> marks.add(markValues(select.values(), result, index)));
            boolean more = entries.size() > size;
            List<Entry<E>> kept = more ? entries.subList(0, size) : entries;
            Mark mark = more ? new Mark(question.order(), marks.get(size - 1)) : null;
            readAlong(into, entity, question, new ArrayList<>(kept));
            List<E> objects = new ArrayList<>(kept.size());
            kept.forEach(entry -> objects.add(entry.object()));
            Page<E> page = new Page<>(objects, mark);
            if (into != side) {
                into.close();
            }
            return page;
        });
    }

    private List<@Nullable String> markValues(List<Place> places, ResultSet result, int from) throws SQLException {
        List<@Nullable String> values = new ArrayList<>();
        for (int i = 0; i < places.size(); i++) {
            Object value = transaction.read(result, from + i, places.get(i).type());
            values.add(value == null ? null : MarkValues.text(value));
        }
        return values;
    }

    @Override
    public <E> Stream<E> stream(Question<E> question) {
        ModelEntity<E> entity = entity(question);
        if (!entity.parts().isEmpty() || !question.along().isEmpty()) {
            refuseLocking(question);
            Question<E> whole = question.whole();
            Stream<E> stream = PageStream.of(mark -> page(whole, PageStream.SIZE, mark));
            Stream<E> from = question.offset() > 0 ? stream.skip(question.offset()) : stream;
            return question.limit().isPresent() ? from.limit(question.limit().getAsInt()) : from;
        }
        refuseLocking(question);
        Select select = store.queries().rows(entity, question);
        ready(select);
        return CursorStream.of(level(), transaction, cause("", question), select.text(), cursor -> {
            UntrackedRows<E> rows = new UntrackedRows<>(store, transaction, entity);
            return () -> cursor.use(rows::next);
        });
    }

    private SqlLevel level() {
        return new UnitLevel(work, store, transaction);
    }

    @Override
    public <E, F> List<Beside.Row<E, F>> list(Beside<E, F> both) {
        ModelEntity<E> left = entity(both.left());
        ModelEntity<F> right = entity(both.right());
        refuseHolding(both.left(), "rows side by side");
        Select select = store.queries().beside(left, right, both, false);
        ready(select);
        return work.reading(() -> {
            ReadSide into = both.left().isUntracked() ? side.aside() : side;
            List<Beside.Row<E, F>> rows = into.reader().readBeside(cause("", both.left()), left, right, select.text());
            if (into != side) {
                into.close();
            }
            return rows;
        });
    }

    private void refuseLocking(Question<?> question) {
        if (question.locking() != null) {
            work.refuseWriting(describe(question) + " holds rows for an update");
        }
    }

    /** A lock that nobody takes is worse than none that was asked for. */
    private void refuseHolding(Question<?> question, String what) {
        if (question.locking() != null) {
            throw new BathraException(describe(question) + " holds rows for an update, but is asked for " + what
                    + "; rows are held by list(), page(...), first(), one() and stream()");
        }
    }

    /** What is pending for the tables that are read goes first. */
    private void ready(Select select) {
        work.check();
        work.flushChangesOf(select.reads());
    }

    // ---- single values

    @Override
    public long count(Question<?> question) {
        return number(cause("count ", question), store.queries().count(entity(question), question));
    }

    @Override
    public long count(Beside<?, ?> both) {
        return number(
                cause("count ", both.left()),
                store.queries().beside(entity(both.left()), entity(both.right()), both, true));
    }

    @Override
    public boolean exists(Question<?> question) {
        return number(cause("exists ", question), store.queries().exists(entity(question), question)) == 1;
    }

    /** The number that a select gives; 0 when it gives no row. */
    private long number(CharSequence cause, Select select) {
        ready(select);
        return work.reading(() -> {
            long[] number = new long[1];
            transaction.query(cause, select.text(), result -> number[0] = result.getLong(1));
            return number[0];
        });
    }

    @Override
    public List<Object> keys(Question<?> question) {
        refuseHolding(question, "keys");
        ModelEntity<?> entity = entity(question);
        Select select = store.queries().keys(entity, question);
        ready(select);
        List<StoredColumn> columns = entity.keyColumns();
        return work.reading(() -> {
            List<Object> keys = new ArrayList<>();
            transaction.query(cause("keys ", question), select.text(), result -> {
                List<@Nullable Object> parts = new ArrayList<>(columns.size());
                for (int i = 0; i < columns.size(); i++) {
                    parts.add(transaction.read(result, i + 1, columns.get(i).type()));
                }
                keys.add(Objects.requireNonNull(entity.keyShape().assemble(parts)));
            });
            return keys;
        });
    }

    // ---- selected values

    @Override
    public <R> List<R> list(Selection<R> selection) {
        Select select = values(selection);
        ready(select);
        return work.reading(() -> {
            List<R> rows = new ArrayList<>();
            ValueReader values = valueReader(select);
            transaction.query(
                    cause("select ", selection.question()),
                    select.text(),
                    result -> rows.add(made(selection, values.row(result))));
            return rows;
        });
    }

    @Override
    public <R> Stream<R> stream(Selection<R> selection) {
        Select select = values(selection);
        ready(select);
        ValueReader values = valueReader(select);
        return CursorStream.of(
                level(),
                transaction,
                cause("select ", selection.question()),
                select.text(),
                cursor -> () -> cursor.use(result -> made(selection, values.row(result))));
    }

    /** A constructor that takes a primitive knows nothing of missing values. */
    private static <R> R made(Selection<R> selection, @Nullable Object[] row) {
        try {
            return selection.maker().apply(row);
        } catch (NullPointerException e) {
            List<Term> missing = new ArrayList<>(selection.terms());
            missing.removeIf(term -> row[selection.terms().indexOf(term)] != null);
            if (missing.isEmpty()) {
                throw e;
            }
            throw new BathraException(
                    "a row has no value for " + missing
                            + ", and what is made of it cannot do without; take a boxed type"
                            + " there, or say orElse(...)",
                    e);
        }
    }

    private Select values(Selection<?> selection) {
        refuseHolding(selection.question(), "values");
        return store.queries().values(entity(selection.question()), selection);
    }

    private ValueReader valueReader(Select select) {
        return transaction.valueReader(select.values());
    }

    @Override
    public List<Term> attributes(Class<?> type, Class<?> record) {
        ModelEntity<?> entity = store.model().entity(type);
        List<Term> terms = new ArrayList<>();
        for (RecordComponent component : record.getRecordComponents()) {
            terms.add(new Term.Attribute(new Path(way(entity, component.getName(), record))));
        }
        return terms;
    }

    private static List<Accessor> way(ModelEntity<?> entity, String name, Class<?> record) {
        Attribute named = entity.attributeIfAny(name).orElse(null);
        if (named instanceof ColumnAttribute column && !column.isInline()) {
            return List.of(new Accessor(entity.type(), name));
        }
        if (name.endsWith("Id")
                && entity.attributeIfAny(name.substring(0, name.length() - 2)).orElse(null)
                        instanceof LinkAttribute link
                && link.columns().size() == 1) {
            String key = link.target().keyAttributes().get(0).name();
            return List.of(
                    new Accessor(entity.type(), link.name()),
                    new Accessor(link.target().type(), key));
        }
        throw new BathraException(record.getSimpleName() + "." + name + " names no single column of " + entity.name()
                + "; name its components like the columns, or say as(" + record.getSimpleName()
                + "::new, ...) with an expression for each");
    }

    // ---- changes, words and plans

    @Override
    public long update(Question<?> question, List<? extends Assignment<?>> assignments) {
        work.check();
        return new SetWiseUpdate(work, store, transaction).update(question, assignments, describe(question));
    }

    @Override
    public long delete(Question<?> question) {
        work.check();
        return new SetWiseDelete(work, store, transaction).delete(question, describe(question));
    }

    /** What a statement is for, in words that most often nobody reads. */
    private CharSequence cause(String what, Question<?> question) {
        return Causes.query(() -> what + describe(question));
    }

    /** Conditions are left out where a secret value is among them. */
    @Override
    public String describe(Question<?> question) {
        return secrets.areIn(question)
                ? "from " + question.type().getSimpleName() + " where (secret)"
                : question.toString();
    }

    @Override
    public QueryText sql(Question<?> question) {
        return shown(question, store.queries().rows(entity(question), question));
    }

    @Override
    public QueryText sql(Selection<?> selection) {
        return shown(selection.question(), values(selection));
    }

    private QueryText shown(Question<?> question, Select select) {
        boolean secret = secrets.areIn(question);
        List<@Nullable Object> values = new ArrayList<>();
        for (SqlText.Param param : select.text().params()) {
            Object value = param instanceof SqlText.ArrayValue array ? array.values() : ((SqlText.Value) param).value();
            values.add(secret ? "(secret)" : value);
        }
        return new QueryText(select.text().sql(), values);
    }

    @Override
    public String explain(Question<?> question) {
        return explain(question, store.queries().rows(entity(question), question));
    }

    @Override
    public String explain(Selection<?> selection) {
        return explain(selection.question(), values(selection));
    }

    private String explain(Question<?> question, Select select) {
        work.check();
        SqlText text = new SqlText(
                store.dialect().explain() + select.text().sql(), select.text().params());
        return work.reading(() -> {
            try (Cursor cursor = transaction.cursor(cause("explain ", question), text, false)) {
                return PlanText.of(cursor, transaction);
            }
        });
    }
}
