package io.bathra.sql;

import io.bathra.error.BathraException;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.Path;
import io.bathra.question.Term;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;

/**
 * Turns conditions on links into SQL. The columns of a link hold the key of what it leads to; the other side of a
 * one-to-one association has none, so that the row at the other end is looked for.
 */
final class LinkWriter {
    private final TermWriter terms;
    private final Scope scope;

    LinkWriter(TermWriter terms, Scope scope) {
        this.terms = terms;
        this.scope = scope;
    }

    /**
     * A link leads nowhere: a foreign key without one of its columns is none.
     *
     * @param columns its columns as they stand in the statement
     */
    static String nowhere(List<String> columns) {
        return columns.stream()
                .map(column -> column + " is null")
                .collect(Collectors.joining(" or ", columns.size() > 1 ? "(" : "", columns.size() > 1 ? ")" : ""));
    }

    String nowhere(Term.Link link) {
        Scope.LinkColumns own = scope.link(link.path());
        if (own == null) {
            Scope.Within other = scope.into(link.path());
            return "not exists (select 1" + other.scope().from() + " where " + other.tie() + ")";
        }
        return nowhere(own.places().stream().map(Place::sql).toList());
    }

    /**
     * A link leads to one of several rows, or somewhere else.
     *
     * @param targets slots for the objects of these rows
     */
    String leads(Term.Link link, List<Term> targets, boolean elsewhere) {
        Path path = link.path();
        Scope.LinkColumns own = scope.link(path);
        if (own != null) {
            scope.reads().add(own.target()); // an object that is compared with may have to be stored before
            String one = oneOf(own.places(), own.target(), targets, path);
            return elsewhere ? "not (" + one + ")" : one;
        }
        Scope.Within other = scope.into(path);
        ModelEntity<?> target = other.scope().entity();
        List<Place> key = target.keyColumns().stream()
                .map(column -> Place.of(other.scope().column(column), column, false))
                .toList();
        String one = oneOf(key, target, targets, path);
        return "exists (select 1" + other.scope().from() + " where " + other.tie() + " and "
                + (elsewhere ? "not (" + one + ")" : one) + ")";
    }

    private String oneOf(List<Place> key, ModelEntity<?> target, List<Term> targets, Path path) {
        List<SqlText.Param> params = Objects.requireNonNull(terms.params());
        if (key.size() == 1) {
            ColumnType type = key.get(0).type();
            List<Hole> holes =
                    targets.stream().map(one -> hole(one, target, 0, path)).toList();
            return terms.dialect().expressions().oneOf(key.get(0).sql(), type, holes, params);
        }
        List<List<Object>> tuples = new ArrayList<>();
        for (Term one : targets) {
            List<Object> tuple = new ArrayList<>();
            for (int part = 0; part < key.size(); part++) {
                tuple.add(hole(one, target, part, path));
            }
            tuples.add(tuple);
        }
        List<String> columns = key.stream().map(Place::sql).toList();
        List<ColumnType> types = key.stream().map(Place::type).toList();
        return terms.dialect().expressions().oneOf(columns, types, tuples, params);
    }

    /** Where a part of an object's key will be, once the object has one. */
    private static Hole hole(Term slot, ModelEntity<?> target, int part, Path path) {
        StoredColumn column = target.keyColumns().get(part);
        UnaryOperator<Object> kept = object -> {
            Object key = target.keyOf(object);
            Object found = target.keyShape().part(key, part);
            if (found == null) {
                throw new BathraException("the " + target.name() + " that " + path + " is compared with has no key yet;"
                        + " flush() stores what is new, and a query with Pending.FLUSH does so by itself");
            }
            return Objects.requireNonNull(column.gate().kept(found));
        };
        return new Hole(((Term.Slot) slot).index(), kept);
    }
}
