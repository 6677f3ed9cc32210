package io.bathra.schema;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/** Compares declared names with those that a database lists. */
final class ListedNames {
    private final Comparison.Spelling spelling;

    ListedNames(Comparison.Spelling spelling) {
        this.spelling = spelling;
    }

    /** What is listed under a name. */
    <T> Optional<T> find(String declared, List<T> listed, Function<T, String> name) {
        return listed.stream()
                .filter(one -> spelling.sameName(declared, name.apply(one)))
                .findFirst();
    }

    /** The same columns in the same order. */
    boolean same(List<String> declared, List<String> listed) {
        return declared.size() == listed.size() && startsWith(declared, listed);
    }

    /** Whether the listed columns begin with the declared ones. */
    boolean startsWith(List<String> declared, List<String> listed) {
        for (int i = 0; i < declared.size(); i++) {
            if (i >= listed.size() || !spelling.sameName(declared.get(i), listed.get(i))) {
                return false;
            }
        }
        return true;
    }

    /** The same columns in any order. */
    boolean sameSet(List<String> declared, List<String> listed) {
        return declared.size() == listed.size()
                && declared.stream().allMatch(name -> listed.stream().anyMatch(one -> spelling.sameName(name, one)));
    }
}
