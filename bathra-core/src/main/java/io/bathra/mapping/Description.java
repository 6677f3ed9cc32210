package io.bathra.mapping;

import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** A model as a person reads it at a glance: an entity with its table, then its columns, associations and rules. */
public final class Description {
    private final StringBuilder text = new StringBuilder();

    private Description() {}

    public static String of(Mapping model) {
        return model.entities().stream()
                .map(Description::of)
                .collect(Collectors.joining("\n\n", "model " + model.name() + "\n\n", ""));
    }

    public static String of(ModelEntity<?> entity) {
        Description description = new Description();
        description.entity(entity);
        return description.text.toString();
    }

    private void entity(ModelEntity<?> entity) {
        text.append(entity.name())
                .append(entity.isView() ? " from the view " : " in ")
                .append(entity.table());
        line("key", names(entity.keyAttributes()) + " " + source(entity.keySource()));
        line(
                "columns",
                entity.stored().stream()
                        .filter(attribute -> attribute instanceof ColumnAttribute && !attribute.isKey())
                        .map(attribute -> column((ColumnAttribute) attribute))
                        .collect(Collectors.joining(", ")));
        associations(entity);
        for (UniqueKey unique : entity.uniqueKeys()) {
            if (!unique.primary()) {
                line("unique", names(unique.attributes()));
            }
        }
        for (CheckRule check : entity.checks()) {
            line("check", check.condition().toString());
        }
        entity.indexes().forEach(index -> line("index", names(index.attributes())));
        managed(entity);
    }

    private void associations(ModelEntity<?> entity) {
        for (PartsAttribute parts : entity.parts()) {
            String kind = parts.kind().name().toLowerCase(Locale.ROOT);
            line(
                    "parts",
                    parts.name() + " = " + kind + " in " + parts.parts().rows().table() + ": "
                            + column(parts.parts().element()));
        }
        for (LinkAttribute link : entity.links()) {
            line(
                    "one",
                    link.name() + " -> " + link.target().name() + (link.required() ? "" : " or none")
                            + (link.onDelete() == DeleteRule.RESTRICT
                                    ? ""
                                    : ", on delete "
                                            + link.onDelete()
                                                    .name()
                                                    .toLowerCase(Locale.ROOT)
                                                    .replace('_', ' ')
                                            + (link.enforcer() == Enforcer.UNIT ? " by the unit of work" : "")));
        }
        for (InverseAttribute back : entity.inverses()) {
            line(
                    "one",
                    back.name() + " = the " + back.target().name() + " whose "
                            + back.otherEnd().name() + " this is, or none");
        }
        for (LinksAttribute many : entity.toManys()) {
            String order = many.orderings().stream().map(Object::toString).collect(Collectors.joining(", "));
            line(
                    "many",
                    many.name() + " = every " + many.target().name() + " whose "
                            + many.otherEnd().name() + " this is" + (order.isEmpty() ? "" : ", by " + order));
        }
        for (PivotAttribute pivot : entity.pivots()) {
            line(
                    "many",
                    pivot.name() + " <-> " + pivot.target().name() + " over "
                            + pivot.pivot().rows().table() + (pivot.order() == null ? "" : ", ordered")
                            + rule(pivot.near(), "on delete here ") + rule(pivot.far(), "on delete there "));
        }
    }

    private static String rule(LinkAttribute side, String words) {
        return side.onDelete() == DeleteRule.CASCADE
                ? ""
                : ", " + words + side.onDelete().name().toLowerCase(Locale.ROOT);
    }

    private void managed(ModelEntity<?> entity) {
        List<String> words = new ArrayList<>();
        if (entity.version() != null) {
            words.add(entity.version().name() + " counts the updates");
        }
        entity.insertStamps().forEach(stamp -> words.add(stamp.name() + " is stamped on insert"));
        entity.updateStamps().forEach(stamp -> words.add(stamp.name() + " is stamped on update"));
        line("kept", String.join(", ", words));
    }

    private void line(String kind, String words) {
        if (!words.isEmpty()) {
            text.append(String.format("%n  %-8s %s", kind, words).stripTrailing());
        }
    }

    private static String names(List<StoredAttribute> attributes) {
        return attributes.stream().map(Attribute::name).collect(Collectors.joining(" + "));
    }

    private static String source(KeySource source) {
        if (source instanceof KeySource.Sequence sequence) {
            return "from the sequence " + sequence.name() + ", " + sequence.block() + " at a time";
        }
        if (source instanceof KeySource.KeyTable table) {
            return "from the key table " + table.name();
        }
        if (source instanceof KeySource.TimeOrdered) {
            return "as time-ordered UUID";
        }
        return source.isDrawn() ? "drawn by the database" : "assigned";
    }

    /** Optional ones carry a question mark. */
    private static String column(ColumnAttribute attribute) {
        if (attribute.isInline()) {
            return attribute.name()
                    + attribute.columns().stream()
                            .map(column -> column.path() + " " + column.type().words() + (column.wanted() ? "" : "?"))
                            .collect(Collectors.joining(", ", " (", ")"))
                    + (attribute.required() ? "" : "?");
        }
        String words = attribute.columns().get(0).type().words();
        return attribute.name() + " " + words + (attribute.isLater() ? " read later" : "")
                + (attribute.required() ? "" : "?");
    }
}
