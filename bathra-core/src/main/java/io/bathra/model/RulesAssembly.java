package io.bathra.model;

import io.bathra.access.Accessor;
import io.bathra.mapping.CheckRule;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.IndexRule;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.Listener;
import io.bathra.mapping.Rules;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.model.Entity.CheckLine;
import io.bathra.model.Entity.IndexLine;
import io.bathra.model.Entity.Line;
import io.bathra.model.Entity.ListenerLine;
import io.bathra.model.Entity.Managed;
import io.bathra.model.Entity.ManagedLine;
import io.bathra.model.Entity.UniqueLine;
import io.bathra.question.Path;
import io.bathra.question.SearchCondition;
import io.bathra.question.Term;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Makes what an entity declares beyond its attributes: constraints, indexes, version and stamps. */
final class RulesAssembly {
    private final EntityAssembly<?> owner;
    private final List<Line> lines;
    private final Map<String, StoredAttribute> byName;

    RulesAssembly(EntityAssembly<?> owner, List<Line> lines, Map<String, StoredAttribute> byName) {
        this.owner = owner;
        this.lines = lines;
        this.byName = byName;
    }

    private List<UniqueKey> uniques() {
        List<UniqueKey> uniques = new ArrayList<>();
        for (StoredAttribute attribute : byName.values().stream()
                .sorted(Comparator.comparingInt(StoredAttribute::slot))
                .toList()) {
            if (owner.isDeclaredUnique(attribute.name())) {
                uniques.add(new UniqueKey(List.of(attribute), false, null));
            }
        }
        for (Line line : lines) {
            if (line instanceof UniqueLine unique) {
                together("unique(...)", unique.accessors())
                        .ifPresent(attributes -> uniques.add(new UniqueKey(attributes, false, unique.name())));
            }
        }
        return uniques;
    }

    /** The attributes that a line names together; empty, with a fault, when one of them has no column. */
    private Optional<List<StoredAttribute>> together(String word, List<Accessor> accessors) {
        List<StoredAttribute> together = new ArrayList<>();
        for (Accessor accessor : accessors) {
            PersistentField field = owner.fields().field(accessor);
            StoredAttribute attribute = field == null ? null : byName.get(field.name());
            if (attribute == null) {
                owner.fault(
                        accessor.method() + "()",
                        "is in " + word + ", but names no column or link; take one of " + byName.keySet());
                return Optional.empty();
            }
            together.add(attribute);
        }
        return Optional.of(together);
    }

    Rules rules() {
        List<IndexRule> indexes = new ArrayList<>();
        List<CheckRule> checks = new ArrayList<>();
        List<ColumnAttribute> versions = new ArrayList<>();
        List<Listener> listeners = new ArrayList<>();
        List<ColumnAttribute> insertStamps = new ArrayList<>();
        List<ColumnAttribute> updateStamps = new ArrayList<>();
        for (Line line : lines) {
            if (line instanceof IndexLine index) {
                together("index(...)", index.accessors())
                        .ifPresent(attributes -> indexes.add(new IndexRule(index.name(), attributes)));
            } else if (line instanceof CheckLine check) {
                check(check.condition());
                checks.add(new CheckRule(check.name(), check.condition()));
            } else if (line instanceof ListenerLine listening) {
                listeners.add(listening.listener());
            } else if (line instanceof ManagedLine managed) {
                ColumnAttribute attribute = managed(managed);
                if (attribute != null) {
                    switch (managed.managed()) {
                        case VERSION -> versions.add(attribute);
                        case INSERT_STAMP -> insertStamps.add(attribute);
                        case UPDATE_STAMP -> updateStamps.add(attribute);
                    }
                }
            }
        }
        if (versions.size() > 1) {
            owner.fault(versions.get(1).name(), "is a second version; declare one");
        }
        return new Rules(
                uniques(),
                indexes,
                checks,
                versions.isEmpty() ? null : versions.get(0),
                insertStamps,
                updateStamps,
                listeners);
    }

    private void check(SearchCondition condition) {
        boolean computed = condition
                .terms()
                .flatMap(Term::all)
                .anyMatch(term -> term.isAggregate()
                        || term instanceof Term.Parameter
                        || (term instanceof Term.TimePart part && part.zone() != null));
        if (computed || condition.elements().findAny().isPresent()) {
            owner.fault("the check '" + condition
                    + "' speaks of more than one row, of parameters or of time zones; a check sees"
                    + " the columns of its own row alone");
        }
        boolean comparesLinks = condition
                .simple()
                .filter(one -> !(one instanceof SearchCondition.Absence))
                .flatMap(SearchCondition::terms)
                .anyMatch(Term.Link.class::isInstance);
        if (comparesLinks) {
            owner.fault("the check '" + condition + "' compares a link with an object; a check knows no other rows,"
                    + " and of a link whether it leads anywhere: isNull(), isNotNull()");
        }
        for (Path path : condition.paths()) {
            PersistentField field = owner.fields().field(path.steps().get(0));
            StoredAttribute named = field == null ? null : byName.get(field.name());
            boolean own = (named instanceof LinkAttribute && path.steps().size() == 1)
                    || (named instanceof ColumnAttribute column
                            && (path.steps().size() == 1
                                    ? !column.isInline()
                                    : column.inside(path.steps()
                                                    .subList(1, path.steps().size()))
                                            != null));
            if (!own) {
                owner.fault("the check '" + condition + "' speaks of " + path + ", which is no column of "
                        + owner.name() + "; a check sees the columns of its own row alone");
            }
        }
    }

    private @Nullable ColumnAttribute managed(ManagedLine line) {
        PersistentField field = owner.fields().field(line.accessor());
        StoredAttribute attribute = field == null ? null : byName.get(field.name());
        if (field == null || !(attribute instanceof ColumnAttribute column)) {
            owner.fields().notAField(line.accessor());
            return null;
        }
        ColumnType.Kind kind = column.columns().get(0).type().kind();
        boolean version = line.managed() == Managed.VERSION;
        if (version && kind != ColumnType.Kind.INTEGER && kind != ColumnType.Kind.LONG) {
            owner.fault(
                    column.name(),
                    "cannot count versions, since it is a " + field.type().getSimpleName()
                            + "; make it an int or a long");
            return null;
        }
        if (!version
                && kind != ColumnType.Kind.INSTANT
                && kind != ColumnType.Kind.DATE_TIME
                && kind != ColumnType.Kind.DATE) {
            owner.fault(
                    column.name(),
                    "cannot be stamped, since it is a " + field.type().getSimpleName()
                            + "; make it an Instant, a LocalDateTime or a LocalDate");
            return null;
        }
        return column;
    }
}
