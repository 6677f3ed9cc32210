package io.bathra.cli.measure;

import io.bathra.error.BathraException;
import io.bathra.error.Flaw;
import io.bathra.form.FormField;
import io.bathra.form.GroupField;
import io.bathra.form.ValueField;
import io.bathra.model.EntityOutline;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Values for the columns of a table, made up from a number. */
final class ValueMaker {
    /** What each column keeps, in the model's words, by its label. */
    private final Map<String, String> types = new HashMap<>();

    ValueMaker(EntityOutline table) {
        table.columns().forEach(column -> types.put(column.label(), column.type()));
    }

    /** How many distinct values there may be. */
    long room(String label) {
        return MadeText.room(types.getOrDefault(label, ""));
    }

    /**
     * A value for a field.
     *
     * @param label by which the columns name it
     * @param apart whether each number has to give another one
     */
    @Nullable
    Object value(FormField field, String label, long number, boolean apart) {
        if (field instanceof GroupField group) {
            List<@Nullable Object> members = new ArrayList<>();
            for (FormField member : group.members()) {
                members.add(value(member, label + "." + member.name(), number + members.size(), apart));
            }
            return group.of(members);
        } else if (!(field instanceof ValueField)) {
            return null; // a link inside of a part
        }
        ValueField value = (ValueField) field;
        if (value.sort() == ValueField.Sort.JSON) {
            return value.value("{\"n\": " + number + "}");
        }
        String words = types.get(label);
        String text = words == null ? null : MadeText.of(words, number, apart);
        return value.value(text == null ? constant(value, number) : text);
    }

    /** One of the constants, which are told when none of them is given. */
    private static String constant(ValueField field, long number) {
        Flaw flaw = field.flaw("?");
        if (flaw.code() != Flaw.Code.NOT_AMONG || flaw.arguments().isEmpty()) {
            throw new BathraException("no value can be made up for " + field + "; measure another entity");
        }
        String[] names = String.valueOf(flaw.arguments().get(0)).split(", ");
        return names[(int) (number % names.length)];
    }
}
