package io.bathra.query;

import io.bathra.question.Answers;
import io.bathra.question.QueryDoor;
import io.bathra.question.Question;
import io.bathra.question.SearchCondition;
import io.bathra.question.SetClause;
import io.bathra.question.SortKey;

/** Lets the library look behind what users hold. */
final class Door extends QueryDoor {
    private Door() {}

    static void leave() {
        leave(new Door());
    }

    @Override
    public SearchCondition meaning(Object condition) {
        return ((Condition<?>) condition).meaning();
    }

    @Override
    public SortKey sortKey(Object ordering) {
        return ((Ordering<?>) ordering).key();
    }

    @Override
    public SetClause setClause(Object assignment) {
        return ((Assignment<?>) assignment).clause();
    }

    @Override
    public <E> Object query(Class<E> type, Answers answers) {
        return new Query<>(answers, new Question<>(type));
    }
}
