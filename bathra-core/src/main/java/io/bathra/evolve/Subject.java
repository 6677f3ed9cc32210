package io.bathra.evolve;

import io.bathra.evolve.Tree.Leaf;
import io.bathra.history.Nearest;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.List;
import java.util.Optional;

/** What a step speaks of: an entity, parts or a pivot, or something in it. */
final class Subject {
    private final Layout before;
    private final Leaf subject;

    /**
     * @param before the layout before the step
     * @param subject the word behind what the step does
     */
    Subject(Layout before, Leaf subject) {
        this.before = before;
        this.subject = subject;
    }

    Leaf leaf() {
        return subject;
    }

    String text() {
        return subject.text();
    }

    /** The sheet that is named. */
    Sheet sheet() {
        return sheet(subject);
    }

    private Sheet sheet(Leaf leaf) {
        return before.sheet(leaf.text())
                .orElseThrow(() -> new Misread(leaf, "there is no '" + leaf.text() + "' here" + near(leaf.text())));
    }

    private String near(String name) {
        return Nearest.to(name, before.sheets().keySet())
                .map(one -> "; did you mean '" + one + "'?")
                .orElse(
                        before.sheets().isEmpty()
                                ? "; nothing was created before"
                                : "; there is "
                                        + String.join(", ", before.sheets().keySet()));
    }

    /** The name of the sheet, which must be of a kind. */
    String kindIs(Sheet.Kind kind) {
        Sheet sheet = sheet(subject);
        if (sheet.kind() != kind) {
            throw new Misread(
                    subject,
                    sheet.name() + " is " + SheetWords.words(sheet.kind()) + ", not " + SheetWords.words(kind));
        }
        return sheet.name();
    }

    /** The sheet of {@code Sheet.field}: the longest beginning that is one. */
    Sheet owner() {
        String text = subject.text();
        Optional<Sheet> found = before.owner(text);
        if (found.isPresent()) {
            return found.get();
        }
        int dot = text.indexOf('.');
        if (dot < 0) {
            throw new Misread(subject, "'" + text + "' names no attribute; write Entity.attribute");
        }
        throw new Misread(subject, "there is no '" + text.substring(0, dot) + "' here" + near(text.substring(0, dot)));
    }

    /** What stands behind the owner. */
    String fieldName() {
        return subject.text().substring(owner().name().length() + 1);
    }

    /** The attribute or link that is named. */
    Field field(boolean link) {
        Field field = FieldWords.need(subject, owner(), fieldName());
        if (field instanceof Field.OfLink != link) {
            throw new Misread(
                    subject,
                    subject.text() + " is " + (link ? "an attribute, not a link" : "a link, not an attribute"));
        }
        return field;
    }

    /** The fields of {@code Sheet.[a, b]}, or the one of {@code Sheet.a}. */
    List<String> several() {
        String name = fieldName();
        List<String> names = name.startsWith("[") && name.endsWith("]")
                ? List.of(name.substring(1, name.length() - 1).trim().split("\\s*,\\s*"))
                : List.of(name);
        names.forEach(one -> FieldWords.need(subject, owner(), one));
        return names;
    }

    /** That something is lost has to be said. */
    void consent(Lines lines, String what) {
        Tree lost = lines.find(what);
        if (lost == null || !Lines.leaf(lost, "'" + what + "'").text().equals("lost")) {
            throw new Misread(lost == null ? subject : lost, what + " go with it; say so with '" + what + ": lost'");
        }
    }
}
