package io.bathra.read;

import io.bathra.access.Accessor;
import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.answer.QueryText;
import io.bathra.error.BathraException;
import io.bathra.jdbc.Transaction;
import io.bathra.jdbc.ValueReader;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.Answers;
import io.bathra.question.Choice;
import io.bathra.question.Question;
import io.bathra.question.Selection;
import io.bathra.question.SetClause;
import io.bathra.question.SideBySide;
import io.bathra.question.Term;
import io.bathra.question.Words;
import io.bathra.sql.MarkValues;
import io.bathra.sql.Place;
import io.bathra.sql.Queries;
import io.bathra.sql.Select;
import io.bathra.track.Entry;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Answers the queries of a unit of work; what is pending for the tables that are read goes first. */
public final class QueryAnswers implements Answers {
    private final ReadingUnit unit;
    private final ReadSide side;
    private final Transaction transaction;
    private final Secrets secrets;
    private final Preparation preparation;
    private final Explanation explanation;
    private final Function<Question<?>, String> words = this::describe;

    public QueryAnswers(ReadingUnit unit, Queries queries, ReadSide side) {
        this.unit = unit;
        this.side = side;
        this.transaction = side.transaction();
        this.secrets = new Secrets(side.tracker().model());
        this.preparation = new Preparation(unit, queries, this);
        this.explanation = new Explanation(unit, transaction, preparation, secrets);
    }

    private <E> ModelEntity<E> entity(Question<E> question) {
        return side.tracker().model().entity(question.type());
    }

    // ---- entities

    @Override
    public <E> List<E> list(Question<E> question) {
        refuseLocking(question);
        Prepared prepared = prepared(question, rows(question));
        return unit.reading(() -> {
            ReadSide into = question.isUntracked() ? side.aside() : side;
            List<E> objects = objects(into, question, prepared);
            if (into != side) {
                into.close();
            }
            return objects;
        });
    }

    /** Selects whole rows, with those that are joined. */
    private Function<Queries, Select> rows(Question<?> question) {
        List<List<Accessor>> joined = AlongTree.of(entity(question), question).joinedWays();
        return queries -> queries.rows(entity(question), question, joined);
    }

    private <E> List<E> objects(ReadSide into, Question<E> question, Prepared prepared) {
        AlongTree along = AlongTree.of(entity(question), question);
        List<E> objects = new ArrayList<>();
        boolean hanging = prepared.overlaid() == null && !along.isBare(entity(question));
        Object key = hanging ? AskedKey.of(side.tracker().model(), entity(question), question) : null;
        List<Entry<?>> entries = into.reader()
                .readDistinct(
                        cause("", question),
                        entity(question),
                        prepared.overlaid() == null ? along.joined() : List.of(),
                        prepared.select().text(),
                        prepared.overlaid(),
                        objects,
                        key,
                        key == null ? List.of() : along.ahead(into, key));
        along.read(into, entries);
        return objects;
    }

    @Override
    public <R> List<R> list(Choice<?, ?, R> choice) {
        return chosen(choice);
    }

    private <E, T, R> List<R> chosen(Choice<E, T, R> choice) {
        Question<E> question = choice.question();
        refuseLocking(question);
        ExcerptReader reader = new ExcerptReader(transaction);
        Prepared prepared = prepared(question, queries -> {
            Select select = rows(question).apply(queries);
            Set<ModelEntity<?>> reads = new LinkedHashSet<>(select.reads());
            reads.addAll(reader.reads(entity(question), choice));
            return new Select(select.text(), reads, select.values());
        });
        prepared.refuseOverlay(() -> describe(question), "an excerpt");
        return unit.reading(() -> {
            ReadSide into = question.isUntracked() ? side.aside() : side;
            List<E> owners = objects(into, question, prepared);
            Map<Object, List<T>> found = reader.read(into, entity(question), choice, owners);
            List<R> rows = new ArrayList<>(owners.size());
            owners.forEach(owner -> rows.add(choice.maker().apply(owner, found.getOrDefault(owner, List.of()))));
            if (into != side) {
                into.close();
            }
            return rows;
        });
    }

    @Override
    public <E> Page<E> page(Question<E> question, int size, @Nullable Mark after) {
        ModelEntity<E> entity = entity(question);
        refuseLocking(question);
        int oneMore = size == Integer.MAX_VALUE ? size : size + 1; // which tells whether there is another page
        Prepared prepared = prepared(question, queries -> queries.page(entity, question, oneMore, after));
        Select select = prepared.select();
        return unit.reading(() -> {
            ReadSide into = question.isUntracked() ? side.aside() : side;
            List<List<@Nullable String>> marks = new ArrayList<>();
            List<Entry<E>> entries = into.reader()
                    .read(
                            cause("", question),
                            entity,
                            select.text(),
                            prepared.overlaid(),
                            (entry, result, index) -> marks.add(markValues(select.values(), result, index)));
            boolean more = entries.size() > size;
            List<Entry<E>> kept = more ? entries.subList(0, size) : entries;
            Mark mark = more ? new Mark(question.order(), marks.get(size - 1)) : null;
            AlongTree.of(entity, question).read(into, new ArrayList<>(kept));
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
            Object value = transaction.read(result, from + i, places.get(i).gate());
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
        Prepared prepared = prepared(question, queries -> queries.rows(entity, question));
        prepared.refuseOverlay(() -> describe(question), "a stream of entities");
        Select select = prepared.select();
        return CursorStream.of(unit, transaction, cause("", question), select.text(), cursor -> {
            UntrackedRows<E> rows = new UntrackedRows<>(side.tracker().model(), transaction, entity);
            return () -> cursor.use(rows::next);
        });
    }

    @Override
    public <R> List<R> list(SideBySide<?, ?, R> both) {
        return beside(both);
    }

    private <E, F, R> List<R> beside(SideBySide<E, F, R> both) {
        ModelEntity<E> left = entity(both.left());
        ModelEntity<F> right = entity(both.right());
        refuseHolding(both.left(), "rows side by side");
        Prepared prepared = prepared(both.left(), queries -> queries.beside(left, right, both, false));
        return unit.reading(() -> {
            ReadSide into = both.left().isUntracked() ? side.aside() : side;
            List<R> rows = into.reader()
                    .readBeside(
                            cause("", both.left()),
                            left,
                            right,
                            prepared.select().text(),
                            prepared.overlaid(),
                            both.maker());
            if (into != side) {
                into.close();
            }
            return rows;
        });
    }

    private void refuseLocking(Question<?> question) {
        if (question.locking() != null) {
            unit.refuseWriting(() -> describe(question) + " holds rows for an update");
        }
    }

    /** A lock that nobody takes is worse than none that was asked for. */
    private void refuseHolding(Question<?> question, String what) {
        if (question.locking() != null) {
            throw new BathraException(describe(question) + " holds rows for an update, but is asked for " + what
                    + "; rows are held by list(), page(...), first(), one() and stream()");
        }
    }

    private Prepared prepared(Question<?> question, Function<Queries, Select> writer) {
        return preparation.of(question, writer);
    }

    // ---- single values

    @Override
    public long count(Question<?> question) {
        return number(
                cause("count ", question), prepared(question, queries -> queries.count(entity(question), question)));
    }

    @Override
    public long count(SideBySide<?, ?, ?> both) {
        return number(
                cause("count ", both.left()),
                prepared(
                        both.left(), queries -> queries.beside(entity(both.left()), entity(both.right()), both, true)));
    }

    @Override
    public boolean exists(Question<?> question) {
        return number(
                        cause("exists ", question),
                        prepared(question, queries -> queries.exists(entity(question), question)))
                == 1;
    }

    /** The number that a select gives; 0 when it gives no row. */
    private long number(CharSequence cause, Prepared prepared) {
        Select select = prepared.select();
        return unit.reading(() -> {
            long[] number = new long[1];
            transaction.query(cause, select.text(), result -> number[0] = result.getLong(1));
            return number[0];
        });
    }

    @Override
    public List<Object> keys(Question<?> question) {
        refuseHolding(question, "keys");
        ModelEntity<?> entity = entity(question);
        Prepared prepared = prepared(question, queries -> queries.keys(entity, question));
        Select select = prepared.select();
        List<StoredColumn> columns = entity.keyColumns();
        return unit.reading(() -> {
            List<Object> keys = new ArrayList<>();
            transaction.query(cause("keys ", question), select.text(), result -> {
                List<@Nullable Object> parts = new ArrayList<>(columns.size());
                for (int i = 0; i < columns.size(); i++) {
                    parts.add(transaction.read(result, i + 1, columns.get(i).gate()));
                }
                if (prepared.overlaid() != null
                        && parts.stream().anyMatch(prepared.overlaid().standIns()::contains)) {
                    prepared.refuseOverlay(() -> describe(question), "keys(), since new objects have none,");
                }
                keys.add(Objects.requireNonNull(entity.keyShape().assemble(parts)));
            });
            return keys;
        });
    }

    // ---- selected values

    @Override
    public <R> List<R> list(Selection<R> selection) {
        Prepared prepared = values(selection);
        return unit.reading(() -> {
            List<R> rows = new ArrayList<>();
            ValueReader values = transaction.valueReader(prepared.select().values());
            transaction.query(
                    cause("select ", selection.question()),
                    prepared.select().text(),
                    result -> rows.add(made(selection, prepared, values.row(result))));
            return rows;
        });
    }

    @Override
    public <R> Stream<R> stream(Selection<R> selection) {
        Prepared prepared = values(selection);
        ValueReader values = transaction.valueReader(prepared.select().values());
        return CursorStream.of(
                unit,
                transaction,
                cause("select ", selection.question()),
                prepared.select().text(),
                cursor -> () -> cursor.use(result -> made(selection, prepared, values.row(result))));
    }

    private Prepared values(Selection<?> selection) {
        refuseHolding(selection.question(), "values");
        return prepared(selection.question(), values(selection.question(), selection));
    }

    /** A constructor that takes a primitive knows nothing of missing values. */
    private static <R> R made(Selection<R> selection, Prepared prepared, @Nullable Object[] row) {
        if (prepared.overlaid() != null) {
            prepared.overlaid().hideStandIns(prepared.select().values(), row);
        }
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

    @Override
    public List<Term> attributes(Class<?> type, Class<?> record) {
        return RecordAttributes.of(side.tracker().model().entity(type), record);
    }

    // ---- changes, words and plans

    @Override
    public long update(Question<?> question, List<SetClause> clauses) {
        unit.check();
        return unit.update(question, clauses, () -> describe(question));
    }

    @Override
    public Map<String, Long> delete(Question<?> question, boolean counting) {
        unit.check();
        return unit.delete(question, counting, () -> describe(question));
    }

    /** What a statement is for, in words that most often nobody reads. */
    private CharSequence cause(String what, Question<?> question) {
        return Causes.query(what, question, words);
    }

    /** Conditions are left out where a secret value is among them. */
    @Override
    public String describe(Question<?> question) {
        return secrets.areIn(question)
                ? "from " + question.type().getSimpleName() + " where (secret)"
                : Words.WITH_VALUES.of(question);
    }

    @Override
    public QueryText sql(Question<?> question) {
        return explanation.statement(question, rows(question));
    }

    @Override
    public QueryText sql(Selection<?> selection) {
        return explanation.statement(selection.question(), values(selection.question(), selection));
    }

    private Function<Queries, Select> values(Question<?> question, Selection<?> selection) {
        return queries -> queries.values(entity(question), selection);
    }

    @Override
    public String explain(Question<?> question) {
        return explanation.plan(cause("explain ", question), question, rows(question));
    }

    @Override
    public String explain(Selection<?> selection) {
        Question<?> question = selection.question();
        return explanation.plan(cause("explain ", question), question, values(question, selection));
    }
}
