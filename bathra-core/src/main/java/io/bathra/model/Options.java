package io.bathra.model;

import io.bathra.access.Accessor;
import io.bathra.attr.Converter;
import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.KeySource;
import io.bathra.question.SortKey;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** What the words of {@link Declare} make. */
final class Options {
    private Options() {}

    /** The name that is among some options; null for none. */
    static @Nullable String name(List<?> options) {
        return options.stream()
                .filter(Name.class::isInstance)
                .map(option -> ((Name) option).column())
                .findFirst()
                .orElse(null);
    }

    /** What is said of the removal of the row at the other end. */
    static Optional<DeleteRule> deleteRule(List<?> options) {
        return options.stream()
                .filter(OnDelete.class::isInstance)
                .map(option -> ((OnDelete) option).rule())
                .findFirst();
    }

    static Enforcer enforcer(List<?> options) {
        return options.stream()
                .filter(EnforcedBy.class::isInstance)
                .map(option -> ((EnforcedBy) option).enforcer())
                .findFirst()
                .orElse(Enforcer.DATABASE);
    }

    record Source(KeySource source) implements KeyOption {}

    record Name(String column) implements NameOption {}

    record Required() implements SharedOption {}

    record Unique() implements SharedOption {}

    record Length(int length) implements ColumnOption {}

    record Made(DatabaseMade made) implements ColumnOption {}

    record Secret() implements ColumnOption {}

    record LongText() implements ColumnOption {}

    record Json() implements ColumnOption {}

    record Digits(int precision, int scale) implements ColumnOption {}

    record Prefix(String prefix) implements InlineOption {}

    /** Options for one member of an inlined value or part. */
    record Within(List<Accessor> path, @Nullable Converter<?, ?> converter, List<ColumnOption> options)
            implements MemberOption {}

    record Element(@Nullable Converter<?, ?> converter, List<ColumnOption> options) implements PartsOption {}

    record TableName(String table) implements TableOption {}

    record NoCascade() implements AssociationOption {}

    record OrderedBy<C>(List<SortKey> orderings) implements LinksOption<C> {}

    record Ordered() implements PivotOption {}

    record OwnKey() implements PivotOption {}

    record DistinctEnds() implements PivotOption {}

    record Exclusive() implements PivotOption {}

    record Side(boolean own, List<SideOption> options) implements PivotOption {}

    record OnDelete(DeleteRule rule) implements DeleteOption {}

    record EnforcedBy(Enforcer enforcer) implements LinkOption {}

    record Deferrable() implements ConstraintOption {}

    record RemoveOrphans() implements LinksOption<Object> {}
}
