package io.bathra.sql;

import io.bathra.attr.Secret;
import io.bathra.error.BathraException;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import io.bathra.question.Path;
import io.bathra.question.Term;
import io.bathra.question.Term.Aggregate;
import io.bathra.question.Term.Call;
import io.bathra.question.Term.Function;
import io.bathra.question.Term.Parameter;
import io.bathra.question.Term.Slot;
import io.bathra.question.Term.TimePart;
import io.bathra.question.Term.Value;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Turns terms into SQL, with values bound to placeholders, or written out where a table's definition wants them. */
final class TermWriter {
    private static final ColumnType INTEGER = ColumnType.of(Integer.class).orElseThrow();
    private static final ColumnType DOUBLE = ColumnType.of(Double.class).orElseThrow();

    /** A quotient of decimals has so many digits behind the point at least. */
    private static final int QUOTIENT_SCALE = 6;

    private final Dialect dialect;
    private final java.util.function.Function<Term, Place> places;

    /** Where values to bind go; null to write them out. */
    private final @Nullable List<SqlText.Param> params;

    TermWriter(Dialect dialect, java.util.function.Function<Term, Place> places, @Nullable List<SqlText.Param> params) {
        this.dialect = dialect;
        this.places = places;
        this.params = params;
    }

    /**
     * The way to the attribute that a term is.
     *
     * @throws BathraException when it stands for something that there is only in an upsert
     */
    static Path attribute(Term term) {
        if (term instanceof Term.Attribute attribute) {
            return attribute.path();
        }
        throw new BathraException(term + " is what a row of an upsert gives, and no row is given here; name an"
                + " attribute, or give the value by a parameter");
    }

    Dialect dialect() {
        return dialect;
    }

    @Nullable
    List<SqlText.Param> params() {
        return params;
    }

    /**
     * Writes a term.
     *
     * @param beside what it is compared or calculated with, which tells how a value is kept; null for nothing
     */
    Place write(Term term, @Nullable Place beside) {
        if (term instanceof Value value) {
            return value(value.value(), beside);
        } else if (term instanceof Slot slot) {
            return slot(slot, beside);
        } else if (term instanceof Parameter) {
            throw new BathraException("the parameter " + term + " has no value, since no query is asked here");
        } else if (term instanceof Call call) {
            return call(call, beside);
        } else if (term instanceof TimePart part) {
            Place of = write(part.of(), null);
            String local =
                    part.zone() == null ? of.sql() : dialect.expressions().inZone(of.sql(), part.zone());
            return of.made(dialect.expressions().timePart(part.part(), local), INTEGER, of.nullable());
        } else if (term instanceof Aggregate aggregate) {
            return aggregate(aggregate);
        }
        return places.apply(term);
    }

    /** Both sides of a comparison; the one that is a value is kept as the other one keeps its own. */
    List<Place> both(Term left, Term right) {
        Place first = isValue(left) ? null : write(left, null);
        if (first == null) {
            int at = params == null ? 0 : params.size();
            Place other = write(right, null);
            Place value = write(left, other);
            if (params != null) { // what stands in front is bound first
                params.add(at, params.remove(params.size() - 1));
            }
            return List.of(value, other);
        }
        return List.of(first, write(right, first));
    }

    private static boolean isValue(Term term) {
        return term instanceof Value || term instanceof Slot;
    }

    /** The holes for a list of values, which are kept as the place beside them keeps its own. */
    List<Hole> holes(List<Term> slots, Place beside) {
        return slots.stream()
                .map(slot -> new Hole(((Slot) slot).index(), value -> compared(beside, value)))
                .toList();
    }

    private Object compared(Place beside, Object value) {
        return beside.compared(value, dialect.abilities().years());
    }

    private Place value(Object value, @Nullable Place beside) {
        Class<?> plain = value instanceof Enum<?> constant ? constant.getDeclaringClass() : value.getClass();
        Place keeper = beside != null ? beside : keeperOf(plain);
        return keeper.value(literalOrBound(keeper.type(), compared(keeper, value)));
    }

    private Place slot(Slot slot, @Nullable Place beside) {
        Place keeper = beside != null ? beside : keeperOf(slot.type());
        Hole hole = new Hole(slot.index(), value -> compared(keeper, value));
        return keeper.value(literalOrBound(keeper.type(), hole));
    }

    /** What keeps values of a class where nothing else tells how. */
    private static Place keeperOf(Class<?> type) {
        return Place.free(
                "a " + type.getSimpleName(),
                ColumnType.of(type)
                        .orElseThrow(() -> new BathraException(
                                "no column keeps a " + type.getName() + " where nothing tells how")),
                false);
    }

    String literalOrBound(ColumnType type, Object stored) {
        if (params == null) {
            return dialect.expressions().literal(type, Objects.requireNonNull(Secret.open(stored)));
        }
        params.add(new SqlText.Value(type, stored));
        return dialect.expressions().placeholder(type);
    }

    private Place call(Call call, @Nullable Place beside) {
        return switch (call.function()) {
            case LOWER, UPPER -> {
                Place of = write(call.arguments().get(0), beside);
                String name = call.function().name().toLowerCase(Locale.ROOT);
                yield of.made(name + "(" + of.sql() + ")", ColumnType.text(0), of.nullable());
            }
            case LENGTH -> {
                Place of = write(call.arguments().get(0), null);
                yield of.made(dialect.expressions().length(of.sql()), INTEGER, of.nullable());
            }
            case COALESCE -> {
                List<Place> all = arguments(call, beside);
                Place first = all.get(0);
                yield new Place(
                        all.stream().map(Place::sql).collect(Collectors.joining(", ", "coalesce(", ")")),
                        first.gate(),
                        first.column(),
                        all.stream().allMatch(Place::nullable));
            }
            case PLUS, MINUS, TIMES, DIVIDED -> calculation(call.function(), arguments(call, beside));
        };
    }

    /** The arguments of a call whose values are kept alike. */
    private List<Place> arguments(Call call, @Nullable Place beside) {
        List<Place> all = new ArrayList<>();
        Place known = beside;
        for (Term argument : call.arguments()) {
            Place place = write(argument, known);
            all.add(place);
            if (!isValue(argument)) {
                known = place;
            }
        }
        return all;
    }

    private Place calculation(Function function, List<Place> sides) {
        Place left = sides.get(0);
        Place right = sides.get(1);
        boolean divided = function == Function.DIVIDED;
        ColumnType type = left.type().kind() == Kind.DECIMAL
                ? left.type()
                        .ofScale(
                                switch (function) {
                                    case TIMES ->
                                        left.type().scale() + right.type().scale();
                                    case DIVIDED ->
                                        Math.max(QUOTIENT_SCALE, left.type().scale());
                                    default ->
                                        Math.max(
                                                left.type().scale(),
                                                right.type().scale());
                                })
                : left.type();
        boolean whole = type.kind() != Kind.DECIMAL && type.kind() != Kind.DOUBLE && type.kind() != Kind.FLOAT;
        String sql = divided
                ? dialect.expressions().quotient(left.sql(), "nullif(" + right.sql() + ", 0)", whole)
                : "(" + left.sql() + " " + function.sign() + " " + right.sql() + ")";
        return (right.gate().isSecret() ? right : left).made(sql, type, divided || left.nullable() || right.nullable());
    }

    private Place aggregate(Aggregate aggregate) {
        Place of = aggregate.of() == null ? null : write(aggregate.of(), null);
        String sql = of == null ? "*" : of.sql();
        return switch (aggregate.kind()) {
            case COUNT -> Place.free("count(" + sql + ")", ColumnType.number(), false);
            case COUNT_DISTINCT -> Place.free("count(distinct " + sql + ")", ColumnType.number(), false);
            case LONG_SUM -> of(aggregate, of).made("sum(" + sql + ")", ColumnType.number(), true);
            case AVG -> of(aggregate, of).made(dialect.expressions().average(sql), DOUBLE, true);
            case SUM ->
                of(aggregate, of).made("sum(" + sql + ")", of(aggregate, of).type(), true);
            case MIN, MAX -> {
                String name = aggregate.kind().name().toLowerCase(Locale.ROOT);
                yield new Place(
                        name + "(" + sql + ")",
                        of(aggregate, of).gate(),
                        of(aggregate, of).column(),
                        true);
            }
        };
    }

    private static Place of(Aggregate aggregate, @Nullable Place of) {
        if (of == null) {
            throw new BathraException(aggregate + " needs a value to look at");
        }
        return of;
    }
}
