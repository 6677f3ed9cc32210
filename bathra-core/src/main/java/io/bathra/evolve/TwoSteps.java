package io.bathra.evolve;

import io.bathra.history.Conversion;
import io.bathra.history.DataStep;
import io.bathra.history.Draft;
import io.bathra.history.Fill;
import io.bathra.history.SchemaStep;
import io.bathra.question.Term;
import io.bathra.schema.Field;
import io.bathra.schema.FieldPath;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A way in two steps: first everything is widened, so that programs of the release before and of the next one both work;
 * when none of the former runs any more, it is narrowed.
 */
final class TwoSteps {
    private final Layout from;
    private final Layout target;
    private final Map<String, String> renamed;

    TwoSteps(Layout from, Layout target, Map<String, String> renamed) {
        this.from = from;
        this.target = target;
        this.renamed = renamed;
    }

    /** What both releases can work with. */
    Layout wide() {
        Layout wide = target;
        for (Sheet old : from.sheets().values()) {
            Optional<Sheet> now = target.sheet(old.name());
            wide = wide.with(now.isEmpty() ? old : wide(old, now.get()));
        }
        return wide.withCommitTokens(target.commitTokens() == null ? from.commitTokens() : target.commitTokens());
    }

    private Sheet wide(Sheet old, Sheet now) {
        List<Field> fields = new ArrayList<>();
        for (Field field : now.fields()) {
            Field before = old.field(field.name()).orElse(null);
            boolean key = now.key().contains(field);
            fields.add(key ? field : before == null ? optional(field) : wide(before, field));
        }
        for (Field field : old.fields()) {
            boolean kept = now.field(field.name()).isEmpty()
                    && now.fields().stream()
                            .flatMap(one -> one.columns().stream())
                            .noneMatch(column -> field.columns().stream().anyMatch(column::equalsIgnoreCase));
            if (kept) {
                fields.add(optional(field));
            }
        }
        Sheet wide = now.withFields(fields);
        return wide.withUniques(now.uniques().stream()
                        .filter(one -> old.uniques().contains(one))
                        .toList())
                .withChecks(now.checks().stream()
                        .filter(one -> old.checks().contains(one))
                        .toList());
    }

    private static Field wide(Field before, Field field) {
        if (before instanceof Field.OfColumn old && field instanceof Field.OfColumn now) {
            boolean keeps = Survival.holds(now.type(), old.type()) || !Conversion.isPossible(old.type(), now.type());
            return new Field.OfColumn(
                    now.name(),
                    now.column(),
                    keeps ? now.type() : old.type(),
                    now.required() && old.required(),
                    now.byDefault(),
                    now.computed());
        }
        return before.required() ? field : optional(field);
    }

    private static Field optional(Field field) {
        if (field instanceof Field.OfColumn one) {
            boolean made = one.byDefault() != null || one.computed() != null;
            return made ? one : new Field.OfColumn(one.name(), one.column(), one.type(), false, null, null);
        }
        Field.OfLink link = (Field.OfLink) field;
        return new Field.OfLink(
                link.name(),
                link.columns(),
                link.to(),
                false,
                link.onDelete(),
                link.deferrable(),
                link.constraint(),
                link.index());
    }

    /** The steps that widen. */
    List<SchemaStep> first() {
        List<SchemaStep> steps =
                new ArrayList<>(Draft.of(from, wide(), Map.of(), Map.of()).steps());
        steps.addAll(copies());
        return steps;
    }

    /** The steps that narrow. */
    Draft second(Map<String, Fill> fills) {
        return Draft.of(wide(), target, Map.of(), fills);
    }

    /** What is only called otherwise is there under both names for a while. */
    List<SchemaStep> copies() {
        List<SchemaStep> copies = new ArrayList<>();
        renamed.forEach((name, newName) -> {
            int dot = name.lastIndexOf('.');
            Sheet sheet = dot < 0 ? null : target.sheets().get(name.substring(0, dot));
            Sheet old = dot < 0 ? null : from.sheets().get(name.substring(0, dot));
            if (sheet != null && old != null) {
                old.field(name.substring(dot + 1))
                        .ifPresent(
                                before -> sheet.field(newName).ifPresent(now -> copies.add(copy(sheet, before, now))));
            }
        });
        return copies;
    }

    private static SchemaStep copy(Sheet sheet, Field before, Field now) {
        Term old = new Term.Attribute(FieldPath.of(before.name()));
        return new DataStep.Backfill(sheet.name(), now.name(), old, Map.of(), 0);
    }
}
