package io.bathra.model;

import io.bathra.model.Entity.LinksLine;
import java.util.Map;
import java.util.Optional;

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
            Class<?> target = owner.element(link.name());
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

    /** Gives each to-many association the link at its other end. */
    void connectToManys(Map<Class<?>, ModelEntity<?>> entities) {
        for (LinksAttribute many : entity.toManys()) {
            if (!(owner.line(many.name()) instanceof LinksLine line)) {
                continue; // reported with the fields
            }
            Class<?> element = owner.element(many.name());
            ModelEntity<?> other = element == null ? null : entities.get(element);
            if (other == null) {
                owner.fault(
                        many.name(),
                        "leads to " + (element == null ? "an unknown class" : element.getSimpleName())
                                + ", which is not in this model; name its declaration in Model.of");
                continue;
            }
            Optional<LinkAttribute> end = other.links().stream()
                    .filter(link -> link.name().equals(line.otherEnd().property())
                            || link.name().equals(line.otherEnd().beanProperty()))
                    .findFirst();
            if (end.isEmpty()) {
                owner.fault(
                        many.name(),
                        "names " + line.otherEnd() + " as its other end, but " + other.name()
                                + " has no such link; it has "
                                + other.links().stream().map(Attribute::name).toList());
            } else if (end.get().otherEnd() != null) {
                owner.fault(
                        many.name(),
                        "names " + line.otherEnd() + " as its other end, which is that of "
                                + end.get().otherEnd() + " already; a link has one other side");
            } else if (end.get().target() != entity) {
                owner.fault(
                        many.name(),
                        "names " + line.otherEnd() + " as its other end, which leads to "
                                + end.get().target().name() + "; name a link to " + entity.name());
            } else {
                end.get().connect(many);
                many.connect(end.get());
            }
        }
    }

    /** Names the columns of the links, once all keys are known. */
    void nameLinkColumns() {
        for (LinkAttribute link : entity.links()) {
            link.nameColumns();
            link.columns().forEach(column -> owner.claimColumn(column.name(), link.name()));
        }
    }
}
