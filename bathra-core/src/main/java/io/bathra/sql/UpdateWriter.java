package io.bathra.sql;

import io.bathra.access.Accessor;
import io.bathra.error.BathraException;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.Path;
import io.bathra.question.SetClause;
import io.bathra.question.Term;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;

/**
 * Turns assignments into one update of all rows that a select finds; its values are those from before, on every
 * database.
 */
public final class UpdateWriter {
    private UpdateWriter() {}

    /**
     * The column that an assignment gives a value to: one of the row itself, a link being that of its target's key.
     *
     * @throws BathraException when it is none
     */
    public static StoredColumn target(ModelEntity<?> entity, SetClause assignment) {
        if (!(assignment.target() instanceof Term.Attribute attribute)) {
            throw new BathraException(
                    "'" + assignment.target() + "' is computed, so it cannot be given a value; name an attribute");
        }
        return own(entity, attribute.path());
    }

    /** A column of the row itself. */
    public static StoredColumn own(ModelEntity<?> entity, Path path) {
        if (entity.attribute(path.steps().get(0)) instanceof LinkAttribute link) {
            List<Accessor> rest = path.steps().subList(1, path.steps().size());
            List<StoredColumn> own = OwnColumns.behind(link, rest);
            if (own != null && own.size() == 1) {
                return own.get(0);
            }
            throw new BathraException("'" + path + "' is in another row than that which is updated; name a column of "
                    + entity.name() + ", or the key at the other end of a link of it");
        }
        return entity.column(path.steps());
    }

    /** Whether the new value of one column is made of another one that gets a new value too. */
    private static boolean readsItsOwn(ModelEntity<?> entity, List<SetClause> assignments) {
        for (SetClause assignment : assignments) {
            StoredColumn target = target(entity, assignment);
            boolean read = assignments.stream()
                    .filter(other -> other != assignment && other.value() != null)
                    .flatMap(other -> Objects.requireNonNull(other.value()).paths())
                    .anyMatch(path -> own(entity, path).equals(target));
            if (read) {
                return true;
            }
        }
        return false;
    }

    static SqlText write(Dialect dialect, ModelEntity<?> entity, List<SetClause> assignments, FoundRows rows) {
        Function<Term, Place> places = term -> {
            StoredColumn column = own(entity, TermWriter.attribute(term));
            return Place.of(rows.alias() + "." + dialect.quote(column.name()), column, !column.required());
        };
        List<SqlText.Param> params = new ArrayList<>();
        TermWriter terms = new TermWriter(dialect, places, params);
        Map<String, String> sets = new LinkedHashMap<>();
        for (SetClause assignment : assignments) {
            StoredColumn column = target(entity, assignment);
            String name = dialect.quote(column.name());
            Place target = Place.of(name, column, !column.required());
            String value = assignment.value() == null
                    ? "null"
                    : dialect.expressions()
                            .assigned(
                                    column.type(),
                                    terms.write(assignment.value(), target).sql());
            if (sets.put(name, value) != null) {
                throw new BathraException(
                        "'" + assignment.target() + "' is given two values by one update; name it once");
            }
        }
        SqlText update = dialect.forms().change(Affected.found(rows), sets, params);
        return readsItsOwn(entity, assignments)
                ? new SqlText(dialect.expressions().assigningAtOnce() + update.sql(), update.params())
                : update;
    }
}
