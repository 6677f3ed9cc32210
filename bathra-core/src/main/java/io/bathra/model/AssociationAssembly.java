package io.bathra.model;

import io.bathra.access.Accessor;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.OtherSide;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.model.Entity.InverseLine;
import io.bathra.model.Entity.LinksLine;
import io.bathra.model.Entity.PivotLine;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Connects the associations of one entity with the other entities of the model. */
final class AssociationAssembly {
    private final EntityAssembly<?> owner;
    private final ModelEntity<?> entity;

    AssociationAssembly(EntityAssembly<?> owner, ModelEntity<?> entity) {
        this.owner = owner;
        this.entity = entity;
    }

    /** Gives each link its target. */
    void connectLinks(Map<Class<?>, ModelEntity<?>> entities) {
        for (LinkAttribute link : entity.links()) {
            Class<?> target = owner.fields().element(link.name());
            ModelEntity<?> found = target == null ? null : entities.get(target);
            if (found == null || found.stored().isEmpty()) {
                if (found == null) {
                    owner.fault(
                            link.name(),
                            "leads to " + (target == null ? "an unknown class" : target.getSimpleName())
                                    + ", which is not in this model; name its declaration in Model.of");
                }
                continue;
            }
            link.connect(found);
        }
    }

    /** Gives each association whose foreign key the other end holds the link there. */
    void connectOtherSides(Map<Class<?>, ModelEntity<?>> entities) {
        for (LinksAttribute many : entity.toManys()) {
            if (owner.fields().line(many.name()) instanceof LinksLine line) {
                otherEnd(many, line.otherEnd(), entities).ifPresent(many::connect);
            }
        }
        for (InverseAttribute back : entity.inverses()) {
            if (owner.fields().line(back.name()) instanceof InverseLine line) {
                Optional<LinkAttribute> end = otherEnd(back, line.otherEnd(), entities);
                if (end.isPresent() && !end.get().isUnique()) {
                    owner.fault(
                            back.name(),
                            "is the other side of " + end.get() + ", which may lead here from many rows; declare that"
                                    + " link unique(), or make this one Links");
                }
                end.ifPresent(back::connect);
            }
        }
    }

    private <A extends Attribute & OtherSide> Optional<LinkAttribute> otherEnd(
            A attribute, Accessor otherEnd, Map<Class<?>, ModelEntity<?>> entities) {
        ModelEntity<?> other = target(attribute, entities);
        if (other == null) {
            return Optional.empty();
        }
        Optional<LinkAttribute> end = other.links().stream()
                .filter(link ->
                        link.name().equals(otherEnd.property()) || link.name().equals(otherEnd.beanProperty()))
                .findFirst();
        if (end.isEmpty()) {
            owner.fault(
                    attribute.name(),
                    "names " + otherEnd + " as its other end, but " + other.name() + " has no such link; it has "
                            + other.links().stream().map(Attribute::name).toList());
        } else if (end.get().otherSide() != null) {
            owner.fault(
                    attribute.name(),
                    "names " + otherEnd + " as its other end, which is that of "
                            + end.get().otherSide() + " already; a link has one other side");
        } else if (end.get().target() != entity) {
            owner.fault(
                    attribute.name(),
                    "names " + otherEnd + " as its other end, which leads to "
                            + end.get().target().name() + "; name a link to " + entity.name());
        } else {
            end.get().connect(attribute);
            return end;
        }
        return Optional.empty();
    }

    private @Nullable ModelEntity<?> target(Attribute attribute, Map<Class<?>, ModelEntity<?>> entities) {
        Class<?> element = owner.fields().element(attribute.name());
        ModelEntity<?> other = element == null ? null : entities.get(element);
        if (other == null) {
            owner.fault(
                    attribute.name(),
                    "leads to " + (element == null ? "an unknown class" : element.getSimpleName())
                            + ", which is not in this model; name its declaration in Model.of");
        }
        return other;
    }

    /** Makes the tables behind parts and pivots, once the keys of all entities are known. */
    void makeHidden(Map<Class<?>, ModelEntity<?>> entities, HiddenTables tables) {
        for (PartsAttribute parts : entity.parts()) {
            new PartsAssembly(
                            parts,
                            Objects.requireNonNull(owner.fields().named(parts.name())),
                            owner.fields().options(parts.name()),
                            owner.scope(),
                            tables)
                    .build(entities);
        }
        for (PivotAttribute pivot : entity.pivots()) {
            if (owner.fields().line(pivot.name()) instanceof PivotLine line) {
                ModelEntity<?> target = target(pivot, entities);
                Optional<PivotAttribute> otherSide = target == null || line.otherSide() == null
                        ? Optional.empty()
                        : otherSide(target, line.otherSide());
                if (target != null && line.otherSide() != null && otherSide.isEmpty()) {
                    owner.fault(
                            pivot.name(),
                            "names " + line.otherSide() + " as its other side, but " + target.name()
                                    + " has no such Links, or declares them itself; declare the pivot on one side");
                } else if (target != null) {
                    new PivotAssembly(pivot, line.options(), owner.scope(), tables)
                            .build(target, otherSide.orElse(null));
                }
            }
        }
    }

    private static Optional<PivotAttribute> otherSide(ModelEntity<?> target, Accessor accessor) {
        return target.pivots().stream()
                .filter(pivot ->
                        pivot.name().equals(accessor.property()) || pivot.name().equals(accessor.beanProperty()))
                .filter(pivot -> !pivot.isConnected())
                .findFirst();
    }

    /** Names the columns of the links, once all keys are known. */
    void nameLinkColumns() {
        for (LinkAttribute link : entity.links()) {
            link.nameColumns();
            link.columns().forEach(column -> owner.scope().claimColumn(column.name(), link.name()));
        }
    }
}
