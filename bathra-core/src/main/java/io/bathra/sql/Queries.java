package io.bathra.sql;

import io.bathra.access.Accessor;
import io.bathra.answer.Mark;
import io.bathra.mapping.ModelEntity;
import io.bathra.question.Apart;
import io.bathra.question.Question;
import io.bathra.question.Selection;
import io.bathra.question.SetClause;
import io.bathra.question.SideBySide;
import java.util.List;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** The selects of questions, each written once for all questions of its shape. Thread-safe. */
public final class Queries {
    /** An application asks far fewer; one that makes up shapes as it goes has them written anew now and then. */
    private static final int REMEMBERED = 1_000;

    /** Questions with long lists are rarely of one shape, and what is remembered of them would be long too. */
    private static final int MOST_VALUES = 100;

    private enum Answer {
        ROWS,
        KEYS,
        COUNT,
        EXISTS,
        VALUES,
        PAIRS,
        COUNT_OF_PAIRS
    }

    private record Shape(Answer answer, Object question, Object more) {
        @Override
        public boolean equals(@Nullable Object other) {
            return other instanceof Shape that
                    && answer == that.answer
                    && question.equals(that.question)
                    && more.equals(that.more);
        }

        @Override
        public int hashCode() {
            return question.hashCode() * 31 + answer.ordinal();
        }
    }

    private final Dialect dialect;
    private final QueryWriter.Source source;
    private final Remembered<Shape, Select> written = new Remembered<>(REMEMBERED);

    public Queries(Dialect dialect) {
        this(dialect, null);
    }

    private Queries(Dialect dialect, @Nullable Overlay overlay) {
        this.dialect = dialect;
        this.source = new QueryWriter.Source(dialect, overlay);
    }

    /** Selects that see pending rows in place of those that are stored. */
    public Queries over(Overlay overlay) {
        return new Queries(dialect, overlay);
    }

    private Select select(Answer answer, Object shape, Apart apart, Supplier<Select> writer) {
        return select(answer, shape, List.of(), apart, writer);
    }

    private Select select(Answer answer, Object shape, Object more, Apart apart, Supplier<Select> writer) {
        if (apart.values().size() > MOST_VALUES) {
            return writer.get().with(apart.values());
        }
        Shape asked = new Shape(answer, shape, more);
        Select known = written.known(asked);
        return (known != null ? known : written.keep(asked, writer.get())).with(apart.values());
    }

    /** Selects whole rows: the entity's stored attributes in their order. */
    public Select rows(ModelEntity<?> entity, Question<?> question) {
        return rows(entity, question, List.of());
    }

    /** Selects whole rows, and behind them those of the entities at the ends of some ways over links. */
    public Select rows(ModelEntity<?> entity, Question<?> question, List<List<Accessor>> joined) {
        Apart apart = new Apart();
        Question<?> shape = apart.question(question);
        return select(
                Answer.ROWS,
                shape,
                joined,
                apart,
                () -> QueryWriter.rows(source, entity, shape, source.overlay() == null ? joined : List.of()));
    }

    /**
     * Selects whole rows behind a mark, in order; behind each row the values of all orderings and the key, for the next
     * mark.
     *
     * @param rows how many at most
     */
    public Select page(ModelEntity<?> entity, Question<?> question, int rows, @Nullable Mark after) {
        Apart apart = new Apart();
        return QueryWriter.page(source, entity, apart.question(question), question.order(), rows, after)
                .with(apart.values());
    }

    /** Selects the keys of the rows. */
    public Select keys(ModelEntity<?> entity, Question<?> question) {
        Apart apart = new Apart();
        Question<?> shape = apart.question(question);
        return select(Answer.KEYS, shape, apart, () -> QueryWriter.keys(source, entity, shape));
    }

    /** Counts the rows that fulfil the question's conditions. */
    public Select count(ModelEntity<?> entity, Question<?> question) {
        Apart apart = new Apart();
        Question<?> shape = apart.question(question);
        return select(Answer.COUNT, shape, apart, () -> QueryWriter.count(source, entity, shape));
    }

    /** Selects something if any row fulfils the question's conditions. */
    public Select exists(ModelEntity<?> entity, Question<?> question) {
        Apart apart = new Apart();
        Question<?> shape = apart.question(question);
        return select(Answer.EXISTS, shape, apart, () -> QueryWriter.exists(source, entity, shape));
    }

    /** Selects values of rows, or of groups of rows. */
    public Select values(ModelEntity<?> entity, Selection<?> selection) {
        Apart apart = new Apart();
        Selection<?> shape = apart.selection(selection);
        return select(Answer.VALUES, shape, apart, () -> QueryWriter.values(source, entity, shape));
    }

    /**
     * An update.
     *
     * @param reads the entities whose tables it reads to find the rows
     */
    public record Update(SqlText text, Set<ModelEntity<?>> reads) {}

    /** Updates the rows that a question finds. */
    public Update update(ModelEntity<?> entity, Question<?> question, List<SetClause> assignments) {
        Apart apart = new Apart();
        List<SetClause> sets = apart.assignments(question, assignments);
        FoundRows rows = QueryWriter.found(source, entity, apart.question(question));
        SqlText text = UpdateWriter.write(dialect, entity, sets, rows);
        return new Update(text.filled(apart.values()), rows.reads());
    }

    /** The rows that a question finds, to be deleted. */
    public FoundRows found(ModelEntity<?> entity, Question<?> question) {
        Apart apart = new Apart();
        Question<?> shape = apart.question(question);
        return QueryWriter.found(source, entity, shape).with(apart.values());
    }

    /** Selects whole rows of two entities side by side, or counts them. */
    public Select beside(ModelEntity<?> left, ModelEntity<?> right, SideBySide<?, ?, ?> both, boolean counting) {
        Apart apart = new Apart();
        QueryWriter.Pair shape = new QueryWriter.Pair(
                apart.question(both.left()), apart.question(both.right()), apart.pairings(both.matches()));
        return select(
                counting ? Answer.COUNT_OF_PAIRS : Answer.PAIRS,
                shape,
                apart,
                () -> QueryWriter.beside(source, left, right, shape, counting));
    }
}
