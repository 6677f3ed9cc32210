package io.bathra.history;

import io.bathra.attr.Naming;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource;
import io.bathra.schema.Field;
import io.bathra.schema.Sheet;
import java.util.List;

/** The names that stand in no file, since they follow from others: a rule that is never changed. */
public final class Convention {
    private Convention() {}

    /** The table of a sheet. */
    public static String table(String sheet) {
        int dot = sheet.indexOf('.');
        return dot < 0
                ? sql(sheet)
                : sql(decapitalized(sheet.substring(0, dot)) + capitalized(sheet.substring(dot + 1)));
    }

    /** The column of an attribute; a member of an inlined value has that of the member alone. */
    public static String column(String attribute) {
        return sql(attribute.substring(attribute.lastIndexOf('.') + 1));
    }

    /** The columns of a link to a sheet. */
    public static List<String> columns(String link, Sheet target) {
        List<String> key = target.keyColumns();
        return key.size() == 1
                ? List.of(sql(link + "Id"))
                : key.stream().map(column -> sql(link) + "_" + column).toList();
    }

    /** The columns of a link that gets another name: what was made of the old one is made of the new one. */
    public static List<String> renamedColumns(Field link, String newName) {
        String old = sql(link.name());
        return link.columns().stream()
                .map(column -> column.startsWith(old + "_") ? sql(newName) + column.substring(old.length()) : column)
                .toList();
    }

    static Field.OfLink leadingTo(Field.OfLink link, String to) {
        return new Field.OfLink(
                link.name(),
                link.columns(),
                to,
                link.required(),
                link.onDelete(),
                link.deferrable(),
                link.constraint(),
                link.index());
    }

    private static String sql(String name) {
        return Naming.SNAKE_CASE.inSql(name);
    }

    static String decapitalized(String name) {
        return Character.toLowerCase(name.charAt(0)) + name.substring(1);
    }

    private static String capitalized(String name) {
        return Character.toUpperCase(name.charAt(0)) + name.substring(1);
    }

    /** Where keys come from, in words. */
    public static String words(KeySource source) {
        if (source instanceof KeySource.Sequence sequence) {
            return "from the sequence " + sequence.name() + ", " + sequence.block() + " at a time";
        } else if (source instanceof KeySource.KeyTable table) {
            return "from the key table " + table.name() + ", beginning with " + table.startAt();
        } else if (source instanceof KeySource.TimeOrdered) {
            return "ordered by time";
        }
        return source.isDrawn() ? "generated" : "assigned";
    }

    /** A type, as files say it. */
    private static String words(ColumnType type) {
        return type.kind() == ColumnType.Kind.ENUM
                ? "choice " + type.length()
                : type.words().replace("(", " ").replace(",", "").replace(")", "");
    }

    /** A field, in words. */
    static String words(Field field) {
        if (field instanceof Field.OfLink link) {
            return "a " + (link.required() ? "required " : "") + "link to " + link.to() + ", on delete "
                    + Look.words(link.onDelete()) + (link.deferrable() ? ", deferrable" : "") + ", in "
                    + link.columns();
        }
        Field.OfColumn one = (Field.OfColumn) field;
        return (one.required() ? "required " : "") + words(one.type()) + " in " + one.column()
                + (one.byDefault() == null ? "" : ", by default " + one.byDefault())
                + (one.computed() == null ? "" : ", computed from " + one.computed());
    }
}
