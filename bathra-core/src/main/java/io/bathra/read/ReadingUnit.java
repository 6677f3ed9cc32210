package io.bathra.read;

import io.bathra.answer.Pending;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ModelEntity;
import io.bathra.question.Question;
import io.bathra.question.SetClause;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** What readers need of the unit of work that they read for. */
public interface ReadingUnit extends CursorPlace {
    /** Refuses when the unit is closed, broken, or at work in another thread. */
    void check();

    /** How queries treat pending changes that do not say so themselves. */
    Pending pending();

    /** Flushes when anything is pending for one of these entities. */
    void flushChangesOf(Set<ModelEntity<?>> entities);

    /** What a query that reads some tables sees of pending changes; null for nothing. */
    @Nullable
    Overlaid overlaid(Set<ModelEntity<?>> reads);

    /** Refuses when the unit is read-only. */
    void refuseWriting(Supplier<String> what);

    /**
     * Changes the rows that fulfil a question's conditions; tells how many there were.
     *
     * @param words the question as it may stand in a message
     */
    long update(Question<?> question, List<SetClause> clauses, Supplier<String> words);

    /**
     * Removes the rows that fulfil a question's conditions.
     *
     * @param counting whether the rows that go along are counted too
     * @param words the question as it may stand in a message
     * @return how many rows there were by the names of entities, this one first
     */
    Map<String, Long> delete(Question<?> question, boolean counting, Supplier<String> words);

    /** The unit's transaction goes on. */
    @Override
    default void end(Transaction transaction, boolean done) {}
}
