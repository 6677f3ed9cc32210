package io.bathra.model;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** A model as a person reads it at a glance: an entity with its table, then its columns, associations and rules. */
final class Description {
    private final StringBuilder text = new StringBuilder();

    private Description() {}

    static String of(Model model) {
        Description description = new Description();
        description.text.append("model ").append(model.name());
        model.entities().forEach(description::entity);
        return description.text.toString();
    }

    private void entity(ModelEntity<?> entity) {
        text.append("\n\n")
                .append(entity.name())
                .append(entity.isView() ? " from the view " : " in ")
                .append(entity.table());
        line("key", names(entity.keyAttributes()) + " " + source(entity.keySource()));
        line(
                "columns",
                entity.stored().stream()
                        .filter(attribute -> attribute instanceof ColumnAttribute && !attribute.isKey())
                        .map(attribute -> column((ColumnAttribute) attribute))
                        .collect(Collectors.joining(", ")));
        for (LinkAttribute link : entity.links()) {
            line("one", link.name() + " -> " + link.target().name() + (link.required() ? "" : " or none"));
        }
        for (LinksAttribute many : entity.toManys()) {
            line(
                    "many",
                    many.name() + " = every " + many.target().name() + " whose "
                            + many.otherEnd().name() + " this is");
        }
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
        ColumnType type = attribute.columns().get(0).type();
        String words = type.kind().name().toLowerCase(Locale.ROOT).replace('_', ' ');
        if (type.kind() == ColumnType.Kind.STRING) {
            words = "text" + (type.length() > 0 ? "(" + type.length() + ")" : "");
        } else if (type.kind() == ColumnType.Kind.DECIMAL) {
            words += "(" + type.precision() + ", " + type.scale() + ")";
        } else if (type.kind() == ColumnType.Kind.ENUM) {
            words = type.javaType().getSimpleName();
        }
        return attribute.name() + " " + words + (attribute.required() ? "" : "?");
    }
}
