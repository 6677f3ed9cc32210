package io.bathra.cli;

import com.fasterxml.jackson.annotation.JsonInclude;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import java.util.List;

/** A model in a form for scripts. */
@JsonInclude(JsonInclude.Include.NON_EMPTY)
record ModelJson(String model, List<EntityJson> entities) {
    record EntityJson(
            String name,
            String table,
            boolean view,
            List<String> key,
            List<ColumnJson> columns,
            List<LinkJson> links,
            List<PivotJson> pivots,
            List<PartsJson> parts,
            List<List<String>> unique) {}

    record ColumnJson(String attribute, String column, String type, boolean required) {}

    record LinkJson(String attribute, String target, boolean required, String onDelete, String enforcedBy) {}

    record PivotJson(String attribute, String target, String table) {}

    record PartsJson(String attribute, String table) {}

    static ModelJson of(Model model, List<EntityOutline> entities) {
        return new ModelJson(
                model.name(), entities.stream().map(ModelJson::entity).toList());
    }

    private static EntityJson entity(EntityOutline entity) {
        return new EntityJson(
                entity.name(),
                entity.table(),
                entity.kind() == EntityOutline.Kind.VIEW,
                entity.key(),
                entity.columns().stream()
                        .map(column -> new ColumnJson(column.label(), column.name(), column.type(), column.required()))
                        .toList(),
                entity.links().stream()
                        .map(link -> new LinkJson(
                                link.attribute(),
                                link.target(),
                                link.required(),
                                link.onDelete().name(),
                                link.enforcedBy().name()))
                        .toList(),
                entity.pivots().stream()
                        .map(pivot -> new PivotJson(pivot.attribute(), pivot.target(), pivot.table()))
                        .toList(),
                entity.parts().stream()
                        .map(parts -> new PartsJson(parts.attribute(), parts.table()))
                        .toList(),
                entity.unique());
    }
}
