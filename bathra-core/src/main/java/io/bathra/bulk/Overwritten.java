package io.bathra.bulk;

import io.bathra.error.BathraException;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.SetClause;
import io.bathra.question.Term;
import io.bathra.sql.UpdateWriter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What is overwritten in rows that are there.
 *
 * @param attributes the attributes that get another value
 * @param computed what becomes of their columns where that is not simply what is given
 * @param used what of the given rows these values are made of
 */
record Overwritten(List<StoredAttribute> attributes, Map<StoredColumn, SetClause> computed, Set<StoredAttribute> used) {
    Overwritten {
        attributes = List.copyOf(attributes);
        computed = Map.copyOf(computed);
        used = Set.copyOf(used);
    }

    /** The attributes are given as they are to be. */
    static Overwritten plain(List<StoredAttribute> attributes) {
        return new Overwritten(attributes, Map.of(), Set.of());
    }

    /**
     * Values are computed.
     *
     * @param given the attributes that rows give
     * @param key those that tell which row is meant
     * @throws BathraException when something else than a column of the row is assigned, or made use of
     */
    static Overwritten computed(
            ModelEntity<?> entity, List<SetClause> clauses, List<StoredAttribute> given, List<StoredAttribute> key) {
        Map<StoredColumn, SetClause> computed = new LinkedHashMap<>();
        Set<StoredAttribute> attributes = new LinkedHashSet<>();
        Set<StoredAttribute> used = new LinkedHashSet<>();
        for (SetClause clause : clauses) {
            StoredColumn column = UpdateWriter.target(entity, clause);
            refuseTelling(column.attribute(), key);
            attributes.add(column.attribute());
            if (computed.put(column, clause) != null) {
                throw new BathraException("'" + clause.target() + "' is given two values by one upsert; name it once");
            }
            List<Term> terms =
                    clause.value() == null ? List.of() : clause.value().all().toList();
            for (Term term : terms) {
                if (term instanceof Term.Given one) {
                    used.add(UpdateWriter.own(entity, one.path()).attribute());
                }
                if (term instanceof Term.Parameter
                        || (term instanceof Term.Value && column.gate().isSecret())) {
                    throw new BathraException("'" + clause.target() + "' cannot be made of "
                            + (term instanceof Term.Value ? "a secret that would be written into the statement" : term)
                            + " in an upsert; let the rows give it, and say given(...)");
                }
            }
        }
        for (StoredAttribute one : used) {
            if (!given.contains(one)) {
                throw new BathraException(
                        one + " is made use of by given(...), but the rows give no value for it; give it");
            }
        }
        return new Overwritten(new ArrayList<>(attributes), computed, used);
    }

    static void refuseTelling(StoredAttribute attribute, List<StoredAttribute> key) {
        if (attribute.isKey() || attribute.isManaged() || key.contains(attribute)) {
            throw new BathraException(attribute + " tells which row is meant, or is kept by the library, so it is not"
                    + " overwritten; leave it out");
        }
    }

    boolean isComputed() {
        return !computed.isEmpty();
    }
}
