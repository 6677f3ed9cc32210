package io.bathra.history;

import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;

/** Whether two layouts ask the same, in whatever order they say it. */
public final class SameLayout {
    private SameLayout() {}

    public static boolean is(Layout one, Layout other) {
        return Objects.equals(one.commitTokens(), other.commitTokens())
                && one.sheets().keySet().equals(other.sheets().keySet())
                && one.sheets().values().stream()
                        .allMatch(sheet -> is(sheet, other.sheet(sheet.name()).orElseThrow()));
    }

    private static boolean is(Sheet one, Sheet other) {
        return one.kind() == other.kind()
                && one.table().equals(other.table())
                && one.key().equals(other.key())
                && one.keySource().equals(other.keySource())
                && one.primaryKey().equals(other.primaryKey())
                && same(one.fields(), other.fields())
                && same(one.uniques(), other.uniques())
                && same(one.indexes(), other.indexes())
                && same(one.checks(), other.checks());
    }

    private static <T> boolean same(List<T> one, List<T> other) {
        Set<T> all = new HashSet<>(one);
        return one.size() == other.size() && all.equals(new HashSet<>(other));
    }
}
