package io.bathra.sql;

import io.bathra.model.ColumnType;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredColumn;
import io.bathra.query.Condition;
import io.bathra.query.Condition.Absence;
import io.bathra.query.Condition.All;
import io.bathra.query.Condition.AnyOf;
import io.bathra.query.Condition.Comparison;
import io.bathra.query.Condition.Like;
import io.bathra.query.Condition.Match;
import io.bathra.query.Condition.Membership;
import io.bathra.query.Condition.Negation;
import io.bathra.query.Path;
import io.bathra.sql.SelectWriter.Place;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Turns conditions into SQL, with values bound to placeholders, or written out where a table's definition wants them. */
final class ConditionWriter {
    private final Dialect dialect;
    private final Function<Path, Place> places;

    /** Where values to bind go; null to write them out. */
    private final @Nullable List<SqlText.Param> params;

    ConditionWriter(Dialect dialect, Function<Path, Place> places, @Nullable List<SqlText.Param> params) {
        this.dialect = dialect;
        this.places = places;
        this.params = params;
    }

    /** A condition on an entity's own columns, with its values written out. */
    static String withLiterals(Dialect dialect, ModelEntity<?> entity, Condition<?> condition) {
        Function<Path, Place> ownColumns = path -> {
            StoredColumn column = entity.column(path.steps());
            return new Place(dialect.quote(column.name()), column, !column.required());
        };
        return new ConditionWriter(dialect, ownColumns, null).condition(condition);
    }

    String all(List<? extends Condition<?>> conditions) {
        return conditions.isEmpty()
                ? "1 = 1"
                : conditions.stream().map(this::condition).collect(Collectors.joining(" and "));
    }

    private String condition(Condition<?> condition) {
        if (condition instanceof Comparison<?> comparison) {
            Place place = places.apply(comparison.path());
            return place.sql() + " " + comparison.operator().sql() + " "
                    + value(place.type(), place.stored(comparison.value()));
        } else if (condition instanceof Match<?> match) {
            String other = places.apply(match.other()).sql();
            return places.apply(match.path()).sql() + " " + match.operator().sql() + " " + other;
        } else if (condition instanceof Membership<?> membership) {
            return membership(membership);
        } else if (condition instanceof Absence<?> absence) {
            return places.apply(absence.path()).sql() + " is null";
        } else if (condition instanceof Like<?> like) {
            return like(like);
        } else if (condition instanceof All<?> all) {
            return "(" + all(all.conditions()) + ")";
        } else if (condition instanceof AnyOf<?> any) {
            return any.conditions().isEmpty()
                    ? "1 = 0"
                    : any.conditions().stream().map(this::condition).collect(Collectors.joining(" or ", "(", ")"));
        } else if (condition instanceof Negation<?> negation) {
            return negation.condition() instanceof Absence<?> absence
                    ? places.apply(absence.path()).sql() + " is not null"
                    : "not (" + condition(negation.condition()) + ")";
        }
        throw new IllegalStateException("no SQL for " + condition);
    }

    private String membership(Membership<?> membership) {
        Place place = places.apply(membership.path());
        if (membership.values().isEmpty()) {
            return "1 = 0";
        }
        return params == null
                ? membership.values().stream()
                        .map(one -> value(place.type(), place.stored(one)))
                        .collect(Collectors.joining(", ", place.sql() + " in (", ")"))
                : dialect.oneOf(
                        place.sql(),
                        place.type(),
                        membership.values().stream().map(place::stored).toList(),
                        params);
    }

    private String like(Like<?> like) {
        Place place = places.apply(like.path());
        if (params != null) {
            return dialect.like(place.sql(), place.type(), like.kind(), like.part(), params);
        }
        // The only placeholder comes after the column, whose name might contain a question mark itself.
        List<SqlText.Param> bound = new ArrayList<>();
        String sql = dialect.like(place.sql(), place.type(), like.kind(), like.part(), bound);
        int at = sql.indexOf('?', place.sql().length());
        Object pattern = ((SqlText.Value) bound.get(0)).value();
        return sql.substring(0, at) + value(place.type(), String.valueOf(pattern)) + sql.substring(at + 1);
    }

    private String value(ColumnType type, Object value) {
        if (params == null) {
            return dialect.literal(type, value);
        }
        params.add(new SqlText.Value(type, value));
        return "?";
    }
}
