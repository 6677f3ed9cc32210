package io.bathra.read;

import io.bathra.answer.QueryText;
import io.bathra.attr.Secret;
import io.bathra.jdbc.Cursor;
import io.bathra.jdbc.Transaction;
import io.bathra.question.Question;
import io.bathra.sql.Queries;
import io.bathra.sql.Select;
import io.bathra.sql.SqlText;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Shows the statement of a question, and the database's plan for it. */
final class Explanation {
    private final ReadingUnit unit;
    private final Transaction transaction;
    private final Preparation preparation;
    private final Secrets secrets;

    Explanation(ReadingUnit unit, Transaction transaction, Preparation preparation, Secrets secrets) {
        this.unit = unit;
        this.transaction = transaction;
        this.preparation = preparation;
        this.secrets = secrets;
    }

    /** The statement that would be executed. */
    QueryText statement(Question<?> question, Function<Queries, Select> writer) {
        Prepared prepared = preparation.unflushed(question, writer);
        boolean secret = hasSecrets(question, prepared);
        List<@Nullable Object> values = new ArrayList<>();
        for (SqlText.Param param : prepared.select().text().params()) {
            Object value = param instanceof SqlText.ArrayValue array ? array.values() : ((SqlText.Value) param).value();
            values.add(secret || value instanceof Secret ? "(secret)" : value);
        }
        return new QueryText(prepared.select().text().sql(), values);
    }

    /** The database's own plan. */
    String plan(CharSequence cause, Question<?> question, Function<Queries, Select> writer) {
        unit.check();
        Prepared prepared = preparation.unflushed(question, writer);
        SqlText select = prepared.select().text();
        String explain = transaction.database().dialect().expressions().explain();
        SqlText text = new SqlText(explain + select.sql(), select.params());
        return unit.reading(() -> {
            try (Cursor cursor = transaction.cursor(cause, text, false)) {
                String plan = PlanText.of(cursor, transaction);
                return hasSecrets(question, prepared)
                        ? transaction.database().dialect().expressions().planWithoutValues(plan)
                        : plan;
            }
        });
    }

    private boolean hasSecrets(Question<?> question, Prepared prepared) {
        return secrets.areIn(question)
                || (prepared.overlaid() != null && prepared.overlaid().overlay().hasSecrets());
    }
}
