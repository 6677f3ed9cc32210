package io.bathra.model;

import io.bathra.access.Accessor;
import io.bathra.model.Entity.AttributeLine;
import io.bathra.model.Entity.ColumnLine;
import io.bathra.model.Entity.ConvertedLine;
import io.bathra.model.Entity.Line;
import io.bathra.model.Entity.LinksLine;
import io.bathra.model.Entity.PartsLine;
import io.bathra.model.Entity.PivotLine;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The persistent fields of an entity class, and what its declaration says of each. */
final class DeclaredFields {
    private final Entity<?> declaration;
    private final TableScope scope;
    private final Map<String, PersistentField> fields = new LinkedHashMap<>();
    private final Map<String, AttributeLine> lines = new LinkedHashMap<>();
    private final Set<String> pivotsFromOtherSides = new HashSet<>();

    DeclaredFields(Entity<?> declaration, TableScope scope) {
        this.declaration = declaration;
        this.scope = scope;
    }

    /** Looks at the class and its declaration, and reports what does not fit. */
    void collect() {
        collectFields();
        collectLines();
    }

    private void collectFields() {
        for (PersistentField field : PersistentField.of(declaration.type())) {
            if (fields.putIfAbsent(field.name(), field) != null) {
                scope.fault(
                        field.name(),
                        "is a field of the class and of a superclass too; rename one, or make it transient");
            }
            if (field.isHolder() && !field.isFinal()) {
                scope.fault(
                        field.name(),
                        "holds " + (field.isLater() ? "a value for later" : "an association")
                                + ", so it must be final: `private final "
                                + field.type().getSimpleName() + "<...> " + field.name() + " = "
                                + field.type().getSimpleName() + ".empty();`");
            } else if (!field.isHolder() && field.isFinal() && !field.isCollection()) {
                scope.fault(
                        field.name(),
                        "is final, but is written when a row is read; remove `final`, or make it transient");
            }
        }
    }

    private void collectLines() {
        for (Line any : declaration.lines()) {
            if (!(any instanceof AttributeLine line)) {
                continue;
            }
            PersistentField field = field(line.accessor());
            if (field == null) {
                notAField(line.accessor());
                continue;
            }
            if (lines.putIfAbsent(field.name(), line) != null) {
                scope.fault(field.name(), "is declared twice; put all its options into one call");
            }
            if (line instanceof PartsLine && !field.isCollection()) {
                scope.fault(
                        field.name(),
                        "is a " + field.type().getSimpleName() + ", so it holds no parts; make it a List, Set or Map");
                lines.remove(field.name());
            }
            if (field.isAssociation() && (line instanceof ColumnLine || line instanceof ConvertedLine)) {
                String word = field.isLink() ? ".link(...)" : ".links(..., other end)";
                scope.fault(field.name(), "holds an association, so declare it with " + word);
            }
        }
        for (PersistentField field : fields.values()) {
            if (field.isCollection() && field.isFinal() && !(lines.get(field.name()) instanceof PartsLine)) {
                scope.fault(
                        field.name(),
                        "is final, but is written when a row is read; declare it with .parts(...), remove"
                                + " `final`, or make it transient");
            }
            if (field.isLinks() && !(lines.get(field.name()) instanceof LinksLine) && !isPivot(field)) {
                scope.fault(
                        field.name(),
                        "needs its other end, or a pivot; declare .links("
                                + Accessor.written(declaration.type(), field.name()) + ", "
                                + (field.element() == null
                                        ? "Other"
                                        : field.element().getSimpleName())
                                + "::...)");
            }
        }
    }

    void notAField(Accessor accessor) {
        scope.fault(
                accessor.method() + "()",
                "is no accessor of a persistent field; name the field '" + accessor.beanProperty()
                        + "' like it, or declare the accessor of a field: " + fields.keySet());
    }

    Collection<PersistentField> all() {
        return fields.values();
    }

    @Nullable
    PersistentField named(String name) {
        return fields.get(name);
    }

    /** The field that an accessor names; null for none. */
    @Nullable
    PersistentField field(Accessor accessor) {
        PersistentField exact = fields.get(accessor.property());
        return exact != null ? exact : fields.get(accessor.beanProperty());
    }

    /** What is declared of an attribute; null where convention alone rules. */
    @Nullable
    AttributeLine line(String attribute) {
        return lines.get(attribute);
    }

    @Nullable
    AttributeLine line(PersistentField field) {
        return lines.get(field.name());
    }

    /** The options that are declared of an attribute. */
    List<?> options(String attribute) {
        AttributeLine line = lines.get(attribute);
        return line == null ? List.of() : line.options();
    }

    /** The class at the other end of an association; null when it cannot be told. */
    @Nullable
    Class<?> element(String attribute) {
        PersistentField field = fields.get(attribute);
        return field == null ? null : field.element();
    }

    /** Whether the other side of a pivot names this field, or the field itself is declared as one. */
    boolean isPivot(PersistentField field) {
        return lines.get(field.name()) instanceof PivotLine || pivotsFromOtherSides.contains(field.name());
    }

    /** Takes note that another entity has declared a pivot with this attribute as its other side. */
    void otherSideOfPivot(Accessor accessor) {
        pivotsFromOtherSides.add(accessor.property());
        pivotsFromOtherSides.add(accessor.beanProperty());
    }
}
