package io.bathra.jdbc;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.ModelEntity;
import io.bathra.model.Difference;
import io.bathra.sql.Dialect;
import io.bathra.sql.SqlText;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;

/** Finds generators that would draw keys which are stored already, since rows came in another way. */
public final class GeneratorCheck {
    private final Transaction transaction;
    private final Dialect dialect;

    public GeneratorCheck(Transaction transaction) {
        this.transaction = transaction;
        this.dialect = transaction.database().dialect();
    }

    /** What is wrong with the generator of an entity whose table is there. */
    public Optional<Difference> lag(ModelEntity<?> entity) {
        Optional<SqlText> question = question(entity);
        if (question.isEmpty()) {
            return Optional.empty();
        }
        OptionalLong next = number(question.get());
        OptionalLong greatest = number(dialect.generators().greatestKey(entity));
        if (next.isEmpty() || greatest.isEmpty() || next.getAsLong() > greatest.getAsLong()) {
            return Optional.empty();
        }
        return Optional.of(new Difference(
                entity.table() + "." + entity.keyColumns().get(0).name(),
                "the key " + greatest.getAsLong() + " is stored, but the generator is at " + next.getAsLong()
                        + " and will draw it again; move the generator on",
                true));
    }

    private Optional<SqlText> question(ModelEntity<?> entity) {
        KeySource source = entity.keySource();
        if (source instanceof KeySource.Generated) {
            return Optional.of(dialect.generators().nextDrawn(entity));
        }
        if (source instanceof KeySource.Sequence sequence) {
            return Optional.of(dialect.generators().nextOf(sequence.name()));
        }
        if (source instanceof KeySource.KeyTable table) {
            SqlText.Value owner = new SqlText.Value(ColumnType.text(0), entity.table());
            return Optional.of(new SqlText(dialect.generators().nextKey(table), List.of(owner)));
        }
        return Optional.empty();
    }

    private OptionalLong number(SqlText question) {
        OptionalLong[] answer = {OptionalLong.empty()};
        transaction.query("verify", question, result -> {
            long number = result.getLong(1);
            answer[0] = result.wasNull() ? OptionalLong.empty() : OptionalLong.of(number);
        });
        return answer[0];
    }
}
