package io.bathra.read;

import io.bathra.answer.Pending;
import io.bathra.question.Question;
import io.bathra.sql.Queries;
import io.bathra.sql.Select;
import java.util.function.Function;

/** Treats pending changes as a question wants, or else the unit, before the question is asked. */
final class Preparation {
    private final ReadingUnit unit;
    private final Queries queries;
    private final QueryAnswers answers;

    Preparation(ReadingUnit unit, Queries queries, QueryAnswers answers) {
        this.unit = unit;
        this.queries = queries;
        this.answers = answers;
    }

    /** A select that is about to be executed: what it has to see is flushed, or laid over it. */
    Prepared of(Question<?> question, Function<Queries, Select> writer) {
        unit.check();
        Select select = writer.apply(queries);
        Pending treatment = treatment(question);
        if (treatment == Pending.FLUSH) {
            unit.flushChangesOf(select.reads());
        }
        Overlaid overlaid = treatment == Pending.OVERLAY ? unit.overlaid(select.reads()) : null;
        if (overlaid == null) {
            return new Prepared(select, null);
        }
        Prepared prepared = new Prepared(writer.apply(queries.over(overlaid.overlay())), overlaid);
        if (question.isUntracked()) {
            prepared.refuseOverlay(() -> answers.describe(question), "untracked()");
        }
        if (question.locking() != null) {
            prepared.refuseOverlay(() -> answers.describe(question), "forUpdate()");
        }
        return prepared;
    }

    /** A select that is not executed, or not for its answer: nothing is flushed for it. */
    Prepared unflushed(Question<?> question, Function<Queries, Select> writer) {
        return treatment(question) == Pending.OVERLAY
                ? of(question, writer)
                : new Prepared(writer.apply(queries), null);
    }

    private Pending treatment(Question<?> question) {
        return question.pending() == null ? unit.pending() : question.pending();
    }
}
