package io.bathra.model;

import io.bathra.access.Accessor;
import io.bathra.attr.DeleteRule;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.CheckRule;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.EntityMaking;
import io.bathra.mapping.Gate;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.Rules;
import io.bathra.mapping.Traits;
import io.bathra.mapping.UniqueKey;
import io.bathra.question.Path;
import io.bathra.question.SearchCondition;
import io.bathra.question.Term;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Makes the table behind a pivot. */
final class PivotAssembly {
    private static final String ORDER = "position";

    private final PivotAttribute attribute;
    private final List<?> options;
    private final TableScope scope;
    private final ModelEntity<HiddenRow> rows;
    private final List<Attribute> all = new ArrayList<>();

    PivotAssembly(PivotAttribute attribute, List<?> options, TableScope owner, HiddenTables tables) {
        this.attribute = attribute;
        this.options = options;
        this.scope = owner.of(attribute.toString());
        this.rows = tables.begin(
                attribute.toString(), ModelEntity.Kind.PIVOT, attribute.entity(), attribute.name(), options, all::size);
    }

    /**
     * @param otherSide the attribute of the target that is the same association; null for none
     */
    void build(ModelEntity<?> target, @Nullable PivotAttribute otherSide) {
        ModelEntity<?> owner = attribute.entity();
        boolean itself = owner == target;
        String nearName = HiddenTables.decapitalized(owner.name());
        LinkAttribute near = side(true, nearName, owner);
        LinkAttribute far = side(false, itself ? attribute.name() : HiddenTables.decapitalized(target.name()), target);
        ColumnAttribute order = null;
        if (EntityAssembly.has(options, Options.Ordered.class)) {
            String column = scope.naming().inSql(ORDER);
            scope.claimColumn(column, ORDER);
            order = ColumnAttribute.single(
                    rows,
                    ORDER,
                    HiddenRow.slot(all.size()),
                    all.size(),
                    new ColumnAttribute.Part("", column, Gate.of(ORDER, ColumnType.number()), false),
                    Traits.PLAIN);
            all.add(order);
        }
        List<UniqueKey> uniques = EntityAssembly.has(options, Options.Exclusive.class)
                ? List.of(new UniqueKey(List.of(far), false, null))
                : List.of();
        EntityMaking.complete(
                rows,
                KeySource.ASSIGNED,
                2,
                all,
                new Rules(uniques, List.of(), checks(itself, near, far), null, List.of(), List.of(), List.of()));
        EntityMaking.columnsAreKnown(rows);
        PivotAttribute.Pivot pivot =
                new PivotAttribute.Pivot(rows, near, far, order, EntityAssembly.has(options, Options.OwnKey.class));
        EntityMaking.isBehind(rows, pivot);
        attribute.connect(pivot, true, otherSide);
        EntityMaking.pivotLeads(target, attribute);
        if (otherSide != null) {
            EntityMaking.pivotLeads(owner, otherSide);
            otherSide.connect(pivot, false, attribute);
        }
    }

    private LinkAttribute side(boolean own, String name, ModelEntity<?> target) {
        List<Object> sideOptions = new ArrayList<>();
        for (Object option : options) {
            if (option instanceof Options.Side side && side.own() == own) {
                sideOptions.addAll(side.options());
            }
        }
        DeleteRule rule = Options.deleteRule(sideOptions).orElse(DeleteRule.CASCADE);
        if (rule == DeleteRule.SET_NULL) {
            scope.fault("says onDelete(SET_NULL) of a side, which would leave half a pair; take CASCADE or RESTRICT");
        }
        LinkAttribute link = new LinkAttribute(
                rows,
                name,
                HiddenRow.slot(all.size()),
                all.size(),
                Options.name(sideOptions),
                scope.naming(),
                true,
                LinkAttribute.Ends.of(rule));
        link.connect(target);
        HiddenTables.nameColumns(link, scope);
        all.add(link);
        return link;
    }

    private List<CheckRule> checks(boolean itself, LinkAttribute near, LinkAttribute far) {
        if (!EntityAssembly.has(options, Options.DistinctEnds.class)) {
            return List.of();
        }
        if (!itself || near.columns().size() > 1) {
            scope.fault("declares distinctEnds(), which serves a pivot between an entity and itself whose key is one"
                    + " column");
            return List.of();
        }
        return List.of(new CheckRule(
                null, new SearchCondition.Comparison(path(near), SearchCondition.Operator.IS_NOT, path(far))));
    }

    private static Term path(LinkAttribute link) {
        return new Term.Attribute(new Path(List.of(new Accessor(HiddenRow.class, link.name()))));
    }
}
