package io.bathra.bulk;

import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.input.Decision;
import io.bathra.input.Given;
import io.bathra.input.ValueCheck;
import io.bathra.mapping.CheckRule;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.mapping.Years;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Looks at rows before they are written. What was told of an attribute when it was read is not told again. */
final class RowCheck {
    private final ModelEntity<?> entity;
    private final RowReading<?> reading;
    private final List<StoredAttribute> written;
    private final Way way;
    private final Years years;
    private final Rejects rejects;

    RowCheck(
            ModelEntity<?> entity,
            RowReading<?> reading,
            List<StoredAttribute> written,
            Way way,
            Years years,
            Rejects rejects) {
        this.entity = entity;
        this.reading = reading;
        this.written = written;
        this.way = way;
        this.years = years;
        this.rejects = rejects;
    }

    void look(BulkRow row) {
        ValueCheck.Report report = (label, value, flaw) -> rejects.add(row, label, value, flaw);
        for (int i = 0; i < written.size(); i++) {
            StoredAttribute attribute = written.get(i);
            if (row.isFlawed(attribute)) {
                continue;
            }
            Object value = row.values[attribute.slot()];
            if (value != null) {
                if (!attribute.isLink()) {
                    ValueCheck.check(attribute, value, years, report);
                }
            } else if (isMissing(attribute)) {
                report.problem(attribute.name(), null, Flaw.of(Code.REQUIRED, "is required; give it a value"));
            }
        }
        UniqueKey identity = way.identity();
        if (identity != null && !row.isRejected() && Way.value(identity, row.values) == null) {
            report.problem(
                    On.names(identity.attributes()), null, "tells which row is meant, but is missing; give it a value");
        }
        if (reading.isTyped()) {
            entity.checks().forEach(rule -> decide(rule, row));
        }
    }

    private boolean isMissing(StoredAttribute attribute) {
        boolean required = attribute.isKey() ? !entity.keySource().isDrawn() : attribute.required();
        return required && way.demands(attribute) && !(attribute.databaseMade() instanceof DatabaseMade.Default);
    }

    /** The database would tell one check of one row; people who have typed it want to know all at once. */
    private void decide(CheckRule rule, BulkRow row) {
        Set<StoredAttribute> spoken = Given.spokenOf(rule, entity);
        if (spoken.stream().noneMatch(row::isFlawed)
                && Decision.of(rule.condition(), entity, attribute -> value(row, attribute)) == Decision.FAILS) {
            List<@Nullable Object> shown = new ArrayList<>();
            spoken.forEach(attribute -> shown.add(attribute.shown(row.values[attribute.slot()])));
            rejects.add(row, Given.names(spoken), shown.size() == 1 ? shown.get(0) : shown, Given.brokenCheck(rule));
        }
    }

    private @Nullable Object value(BulkRow row, StoredAttribute attribute) {
        return reading.given().contains(attribute) ? row.values[attribute.slot()] : Decision.open();
    }
}
