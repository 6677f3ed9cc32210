package io.bathra.cli;

import com.fasterxml.jackson.annotation.JsonInclude;
import io.bathra.model.LinkAttribute;
import io.bathra.model.Model;
import io.bathra.model.ModelEntity;
import io.bathra.model.PartsAttribute;
import io.bathra.model.PivotAttribute;
import io.bathra.model.StoredAttribute;
import io.bathra.model.StoredColumn;
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

    static ModelJson of(Model model, List<ModelEntity<?>> entities) {
        return new ModelJson(
                model.name(), entities.stream().map(ModelJson::entity).toList());
    }

    private static EntityJson entity(ModelEntity<?> entity) {
        return new EntityJson(
                entity.name(),
                entity.table(),
                entity.isView(),
                names(entity.keyAttributes()),
                entity.columns().stream().map(ModelJson::column).toList(),
                entity.links().stream().map(ModelJson::link).toList(),
                entity.pivots().stream().map(ModelJson::pivot).toList(),
                entity.parts().stream().map(ModelJson::parts).toList(),
                entity.uniqueKeys().stream()
                        .filter(key -> !key.primary())
                        .map(key -> names(key.attributes()))
                        .toList());
    }

    private static List<String> names(List<StoredAttribute> attributes) {
        return attributes.stream().map(StoredAttribute::name).toList();
    }

    private static ColumnJson column(StoredColumn column) {
        return new ColumnJson(column.label(), column.name(), column.type().words(), column.required());
    }

    private static LinkJson link(LinkAttribute link) {
        return new LinkJson(
                link.name(),
                link.target().name(),
                link.required(),
                link.onDelete().name(),
                link.enforcer().name());
    }

    private static PivotJson pivot(PivotAttribute pivot) {
        return new PivotJson(
                pivot.name(), pivot.target().name(), pivot.pivot().rows().table());
    }

    private static PartsJson parts(PartsAttribute parts) {
        return new PartsJson(parts.name(), parts.parts().rows().table());
    }
}
