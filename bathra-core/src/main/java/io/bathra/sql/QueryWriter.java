package io.bathra.sql;

import io.bathra.access.Accessor;
import io.bathra.answer.Mark;
import io.bathra.error.BathraException;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.Match;
import io.bathra.question.Question;
import io.bathra.question.SearchCondition;
import io.bathra.question.Selection;
import io.bathra.question.SortKey;
import io.bathra.question.Term;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Turns the shapes of questions into selects, with holes for values in the order in which a statement shows their
 * placeholders.
 */
final class QueryWriter {
    private static final String ROOT = "t";
    private static final String RIGHT = "u";

    private final Dialect dialect;
    private final @Nullable Overlay overlay;
    private final ModelEntity<?> entity;
    private final Question<?> question;
    private final Scope scope;
    private final List<SqlText.Param> params;
    private final TermWriter terms;
    private final ConditionWriter conditions;

    /**
     * What is asked.
     *
     * @param overlay what stands in for some tables; null for nothing
     */
    record Source(Dialect dialect, @Nullable Overlay overlay) {}

    /** Two questions whose rows are put side by side where they have something in common. */
    record Pair(Question<?> left, Question<?> right, List<Match> pairings) {}

    private QueryWriter(Source source, ModelEntity<?> entity, Question<?> question) {
        this(source, entity, question, ROOT, new LinkedHashSet<>(), new ArrayList<>());
    }

    private QueryWriter(
            Source source,
            ModelEntity<?> entity,
            Question<?> question,
            String alias,
            Set<ModelEntity<?>> reads,
            List<SqlText.Param> params) {
        this.dialect = source.dialect();
        this.overlay = source.overlay();
        this.entity = entity;
        this.question = question;
        this.params = params;
        scope = new Scope(dialect, entity, alias, reads, null, overlay);
        terms = new TermWriter(dialect, ConditionWriter.places(scope), params);
        conditions = ConditionWriter.in(dialect, scope, params);
    }

    private Select select(String head, String tail, List<Place> values) {
        String with = overlay == null ? "" : overlay.with(dialect, params);
        SqlText text =
                new SqlText(with + "select " + head + scope.from() + tail, params, question.locking() != null, false);
        return new Select(text, scope.reads(), values);
    }

    // ---- entities

    /**
     * Selects whole rows: the entity's stored attributes in their order; behind them those of the entities at the ends
     * of some ways over links.
     */
    static Select rows(Source source, ModelEntity<?> entity, Question<?> question, List<List<Accessor>> joined) {
        QueryWriter writer = new QueryWriter(source, entity, question);
        String tail = writer.where(null) + writer.order() + writer.slice() + writer.locking();
        List<String> columns = new ArrayList<>(List.of(writer.rowColumns()));
        joined.forEach(way -> columns.add(writer.scope.columnsAlong(way)));
        return writer.select(String.join(", ", columns), tail, List.of());
    }

    /**
     * Selects whole rows behind a mark, in order; behind each row the values of all orderings and the key, for the next
     * mark.
     *
     * @param order the question's orderings in words, by which marks are told apart
     * @param rows how many at most
     */
    static Select page(
            Source source, ModelEntity<?> entity, Question<?> question, String order, int rows, @Nullable Mark after) {
        QueryWriter writer = new QueryWriter(source, entity, question);
        List<Place> values = new ArrayList<>();
        List<String> columns = new ArrayList<>();
        columns.add(writer.rowColumns());
        for (SortKey ordering : question.orderings()) {
            values.add(writer.terms.write(ordering.term(), null));
        }
        entity.keyColumns().forEach(key -> values.add(Place.of(writer.scope.column(key), key, false)));
        values.forEach(value -> columns.add(value.sql()));
        if (after != null && (!after.order().equals(order) || after.values().size() != values.size())) {
            throw new IllegalArgumentException("the mark was made for pages ordered by '" + after.order()
                    + "', but these are ordered by '" + order + "'; begin with the first page");
        }
        String tail = writer.where(
                after == null ? null : new SeekWriter(writer.terms, values, List.copyOf(question.orderings()), after));
        return writer.select(
                String.join(", ", columns),
                tail + writer.order() + " limit " + rows + writer.locking(),
                List.copyOf(values));
    }

    /** Selects the keys of the rows. */
    static Select keys(Source source, ModelEntity<?> entity, Question<?> question) {
        QueryWriter writer = new QueryWriter(source, entity, question);
        return writer.select(writer.keyOrder(), writer.where(null) + writer.order() + writer.slice(), List.of());
    }

    /** The rows that fulfil the question's conditions, for statements that change them. */
    static FoundRows found(Source source, ModelEntity<?> entity, Question<?> question) {
        QueryWriter writer = new QueryWriter(source, entity, question);
        Sorted sorted = Sorted.of(entity, question.conditions());
        List<FoundRows.Listed> lists = new ArrayList<>();
        sorted.behind().forEach((link, conditions) -> lists.add(writer.listed(link, conditions)));
        sorted.having().forEach(elements -> lists.add(writer.listed(elements)));
        String where = sorted.own().isEmpty() ? "" : writer.conditions.all(sorted.own());
        return new FoundRows(
                source.dialect().qualified(entity.table()) + " as " + ROOT,
                ROOT,
                writer.scope.joins(),
                where,
                lists,
                FoundRows.keys(source.dialect(), entity, ROOT),
                List.copyOf(writer.params),
                writer.scope.reads());
    }

    /** The owners of elements that fulfil conditions. */
    private FoundRows.Listed listed(SearchCondition.Elements elements) {
        Scope.Within within = scope.into(elements.collection());
        List<SqlText.Param> bound = new ArrayList<>();
        String asked = ConditionWriter.in(dialect, within.scope(), bound).all(elements.conditions());
        String list =
                "select " + FoundRows.named(within.inner()) + within.scope().from() + " where " + asked;
        return new FoundRows.Listed(within.outer(), new SqlText(list, bound), true);
    }

    /** What a link may lead to, so that conditions hold there. */
    private FoundRows.Listed listed(LinkAttribute link, List<SearchCondition> conditions) {
        Scope there = scope.behind(link);
        List<SqlText.Param> bound = new ArrayList<>();
        String asked = ConditionWriter.in(dialect, there, bound).all(conditions);
        List<String> keys =
                link.target().keyColumns().stream().map(there::column).toList();
        String list = "select " + FoundRows.named(keys) + there.from() + " where " + asked;
        return new FoundRows.Listed(
                link.columns().stream().map(scope::column).toList(), new SqlText(list, bound), false);
    }

    /** Counts the rows that fulfil the question's conditions. */
    static Select count(Source source, ModelEntity<?> entity, Question<?> question) {
        QueryWriter writer = new QueryWriter(source, entity, question);
        return writer.select("count(*)", writer.where(null), List.of());
    }

    /** Selects something if any row fulfils the question's conditions. */
    static Select exists(Source source, ModelEntity<?> entity, Question<?> question) {
        QueryWriter writer = new QueryWriter(source, entity, question);
        return writer.select("1", writer.where(null) + " limit 1", List.of());
    }

    // ---- two entities

    /** Selects whole rows of two entities side by side. */
    static Select beside(Source source, ModelEntity<?> left, ModelEntity<?> right, Pair both, boolean counting) {
        QueryWriter writer = new QueryWriter(source, left, both.left());
        QueryWriter other = new QueryWriter(source, right, both.right(), RIGHT, writer.scope.reads(), writer.params);
        List<String> on = new ArrayList<>();
        for (Match pairing : both.pairings()) {
            on.add(writer.terms.write(pairing.left(), null).sql() + " = "
                    + other.terms.write(pairing.right(), null).sql());
        }
        List<String> where = new ArrayList<>(on);
        if (!both.left().conditions().isEmpty()) {
            where.add(writer.conditions.all(both.left().conditions()));
        }
        if (!both.right().conditions().isEmpty()) {
            where.add(other.conditions.all(both.right().conditions()));
        }
        String order = "";
        if (!counting) {
            List<String> orderings = writer.orderings();
            orderings.add(writer.keyOrder());
            orderings.add(other.keyOrder());
            order = " order by " + String.join(", ", orderings) + writer.slice();
        }
        String from = writer.scope.from() + " cross join " + other.scope.tables();
        String head = counting ? "count(*)" : writer.rowColumns() + ", " + other.rowColumns();
        String with = writer.overlay == null ? "" : writer.overlay.with(writer.dialect, writer.params);
        return new Select(
                new SqlText(
                        with + "select " + head + from + " where " + String.join(" and ", where) + order,
                        writer.params),
                writer.scope.reads(),
                List.of());
    }

    // ---- values

    /** Selects values of rows, or of groups of rows. */
    static Select values(Source source, ModelEntity<?> entity, Selection<?> selection) {
        QueryWriter writer = new QueryWriter(source, entity, selection.question());
        return writer.values(selection);
    }

    private Select values(Selection<?> selection) {
        boolean grouped = !question.groups().isEmpty()
                || !question.having().isEmpty()
                || selection.terms().stream().anyMatch(Term::isAggregate);
        if (grouped) {
            refuseUngrouped(selection.terms());
        }
        Map<Term, String> aliases = new LinkedHashMap<>();
        List<Place> values = new ArrayList<>();
        List<String> columns = new ArrayList<>();
        for (Term term : selection.terms()) {
            Place place = terms.write(term, null);
            values.add(place);
            String alias = "v" + values.size();
            columns.add(place.sql() + " as " + alias);
            if (!(term instanceof Term.Attribute)) {
                aliases.putIfAbsent(term, alias); // its values are bound once, so only here
            }
        }
        String tail = where(null) + groups(aliases);
        List<String> orderings = new ArrayList<>();
        for (SortKey ordering : question.orderings()) {
            if (selection.distinct() && !selection.terms().contains(ordering.term())) {
                throw new BathraException("the answer is to be distinct and ordered by '" + ordering.term()
                        + "', which is not in it; order by what is selected, or select it too");
            }
            orderings.add(ordered(ordering, aliases));
        }
        boolean sliced = question.limit().isPresent() || question.offset() > 0;
        if (grouped && (sliced || !orderings.isEmpty())) {
            question.groups().stream()
                    .filter(group -> question.orderings().stream()
                            .noneMatch(one -> one.term().equals(group)))
                    .forEach(group -> orderings.add(sql(group, aliases)));
        } else if (!grouped && !selection.distinct() && (sliced || !orderings.isEmpty())) {
            orderings.add(keyOrder());
        }
        tail += (orderings.isEmpty() ? "" : " order by " + String.join(", ", orderings)) + slice();
        return select((selection.distinct() ? "distinct " : "") + String.join(", ", columns), tail, values);
    }

    private void refuseUngrouped(List<Term> selected) {
        List<Term> asked = new ArrayList<>(selected);
        question.orderings().forEach(ordering -> asked.add(ordering.term()));
        for (Term term : asked) {
            if (!term.isAggregate() && !question.groups().contains(term)) {
                throw new BathraException(
                        "'" + term + "' may differ from row to row of a group; group by it too, or ask for"
                                + " min, max or another aggregate of it");
            }
        }
    }

    private String groups(Map<Term, String> aliases) {
        String having = question.having().isEmpty() ? "" : " having " + conditions.all(question.having());
        if (question.groups().isEmpty()) {
            return having;
        }
        return " group by "
                + question.groups().stream().map(term -> sql(term, aliases)).collect(Collectors.joining(", "))
                + having;
    }

    private String sql(Term term, Map<Term, String> aliases) {
        String alias = aliases.get(term);
        return alias != null ? alias : terms.write(term, null).sql();
    }

    // ---- parts of a select

    private String where(@Nullable SeekWriter seek) {
        List<SearchCondition> asked = question.conditions();
        if (asked.isEmpty() && seek == null) {
            return "";
        }
        String where = asked.isEmpty() ? "" : conditions.all(asked);
        return " where " + where + (seek == null ? "" : (where.isEmpty() ? "" : " and ") + seek.behind());
    }

    private String order() {
        List<String> orderings = orderings();
        Set<String> columns = new LinkedHashSet<>();
        for (SortKey ordering : question.orderings()) {
            if (ordering.term() instanceof Term.Attribute attribute) {
                columns.add(scope.place(attribute.path()).sql());
            }
        }
        boolean total = entity.keyColumns().stream().allMatch(column -> columns.contains(scope.column(column)));
        boolean sliced = (question.limit().isPresent() && !question.isWhichever()) || question.offset() > 0;
        boolean ordered = sliced || !orderings.isEmpty();
        if (ordered && !total) {
            orderings.add(keyOrder());
        }
        return orderings.isEmpty() ? "" : " order by " + String.join(", ", orderings);
    }

    private List<String> orderings() {
        List<String> orderings = new ArrayList<>();
        question.orderings().forEach(ordering -> orderings.add(ordered(ordering, Map.of())));
        return orderings;
    }

    private String ordered(SortKey ordering, Map<Term, String> aliases) {
        String alias = aliases.get(ordering.term());
        return alias == null
                ? ordered(dialect, terms, ordering)
                : ordered(dialect, Place.free(alias, ColumnType.number(), true), ordering, () -> alias);
    }

    /** One term of an order. */
    static String ordered(Dialect dialect, TermWriter terms, SortKey ordering) {
        Place place = terms.write(ordering.term(), null);
        Iterator<Place> written = List.of(place).iterator(); // a second time the values are bound once more
        return ordered(
                dialect,
                place,
                ordering,
                () -> (written.hasNext() ? written.next() : terms.write(ordering.term(), null)).sql());
    }

    private static String ordered(Dialect dialect, Place place, SortKey ordering, Supplier<String> term) {
        boolean asItIs = !place.nullable()
                || dialect.expressions().putsNullsFirst(ordering.descending()) == ordering.nullsFirst();
        return asItIs
                ? place.sql() + (ordering.descending() ? " desc" : "")
                : dialect.expressions().ordered(term, ordering.descending(), ordering.nullsFirst());
    }

    private String locking() {
        return question.locking() == null ? "" : dialect.expressions().locking(question.locking(), ROOT);
    }

    private String slice() {
        return dialect.expressions().slice(question.limit(), question.offset());
    }

    private String keyOrder() {
        return entity.keyColumns().stream().map(scope::column).collect(Collectors.joining(", "));
    }

    private String rowColumns() {
        List<StoredColumn> columns = entity.columnsWithRow();
        return columns.stream().map(scope::column).collect(Collectors.joining(", "))
                + (overlay != null && overlay.covers(entity) ? ", " + scope.number() : "");
    }
}
