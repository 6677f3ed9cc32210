package io.bathra;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import java.lang.module.ModuleDescriptor;
import java.lang.module.ModuleFinder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/** The rooms of the library, read off the compiled classes: which there are, who sees them, and what each stands on. */
final class House {
    /** From the top floor down; a room may use those below it. */
    static final List<String> ROOMS = List.of(
            "io.bathra.evolve",
            "io.bathra",
            "io.bathra.ledger",
            "io.bathra.flush",
            "io.bathra.read",
            "io.bathra.bulk",
            "io.bathra.jdbc",
            "io.bathra.catalogue",
            "io.bathra.sql",
            "io.bathra.plan",
            "io.bathra.history",
            "io.bathra.schema",
            "io.bathra.track",
            "io.bathra.form",
            "io.bathra.model",
            "io.bathra.input",
            "io.bathra.mapping",
            "io.bathra.query",
            "io.bathra.question",
            "io.bathra.answer",
            "io.bathra.link",
            "io.bathra.access",
            "io.bathra.attr",
            "io.bathra.trace",
            "io.bathra.text",
            "io.bathra.error");

    private final Set<String> exported = exports();
    private final List<JavaClass> types = new ArrayList<>();
    private final Map<String, Map<String, Integer>> arrows = new LinkedHashMap<>();

    House(JavaClasses classes) {
        for (JavaClass type : classes) {
            if (!type.getPackageName().startsWith("io.bathra")
                    || type.getSimpleName().endsWith("-info")) {
                continue;
            }
            if (type.isTopLevelClass()) {
                types.add(type);
            }
            type.getDirectDependenciesFromSelf().stream()
                    .map(arrow -> arrow.getTargetClass().getPackageName())
                    .filter(target -> target.startsWith("io.bathra") && !target.equals(type.getPackageName()))
                    .distinct()
                    .forEach(target -> arrows.computeIfAbsent(type.getPackageName(), from -> new LinkedHashMap<>())
                            .merge(target, 1, Integer::sum));
        }
    }

    /** The house as it is compiled. */
    static House compiled() {
        return new House(new ClassFileImporter()
                .withImportOption(new DoNotIncludeTests())
                .importPackages("io.bathra"));
    }

    /** The packages that the module shows to everybody. */
    static Set<String> exports() {
        return ModuleFinder.of(Path.of("target", "classes")).findAll().stream()
                .flatMap(module -> module.descriptor().exports().stream())
                .map(ModuleDescriptor.Exports::source)
                .collect(Collectors.toCollection(TreeSet::new));
    }

    boolean isExported(String room) {
        return exported.contains(room);
    }

    /** All packages that have classes. */
    Set<String> packages() {
        return types.stream().map(JavaClass::getPackageName).collect(Collectors.toCollection(TreeSet::new));
    }

    /** All top-level types. */
    int size() {
        return types.size();
    }

    /** The top-level types that users can see. */
    List<String> visible() {
        return types.stream()
                .filter(type -> exported.contains(type.getPackageName()) && isPublic(type))
                .map(JavaClass::getName)
                .sorted()
                .toList();
    }

    private static boolean isPublic(JavaClass type) {
        return type.getModifiers().contains(com.tngtech.archunit.core.domain.JavaModifier.PUBLIC);
    }

    /** Arrows from a room to one above it. */
    List<String> arrowsUp() {
        List<String> up = new ArrayList<>();
        arrows.forEach((from, targets) -> targets.keySet().stream()
                .filter(to -> ROOMS.indexOf(to) < ROOMS.indexOf(from))
                .forEach(to -> up.add(from + " -> " + to)));
        return up;
    }

    /** How many classes of a room use classes of another one. */
    int arrows(String from, String to) {
        return arrows.getOrDefault(from, Map.of()).getOrDefault(to, 0);
    }

    /** The page that shows the house. */
    String page() {
        StringBuilder page = new StringBuilder("""
                # The house

                Made of the compiled classes by `House`; the build compares it. To draw it anew after a change:
                `mvn -pl bathra-core test -Dtest=HouseTest -Dhouse.draw`.

                The rooms of `bathra-core`, from the top floor down. Below the names: how many classes of the room on the left use the
                room of that number. Everything stands right of the diagonal, since no arrow goes up.

                ```
                """);
        page.append(String.format("%-22s", ""));
        for (int i = 0; i < ROOMS.size(); i++) {
            page.append(String.format("%4d", i + 1));
        }
        for (int i = 0; i < ROOMS.size(); i++) {
            StringBuilder line = new StringBuilder(String.format("%2d %-19s", i + 1, ROOMS.get(i)));
            for (int j = 0; j < ROOMS.size(); j++) {
                int count = arrows(ROOMS.get(i), ROOMS.get(j));
                line.append(i == j ? "   \\" : count == 0 ? "   ." : String.format("%4d", count));
            }
            page.append('\n').append(line);
        }
        page.append("""

                ```

                | room | types | public | exported |
                |---|---|---|---|
                """);
        for (String room : ROOMS) {
            List<JavaClass> own = types.stream()
                    .filter(type -> type.getPackageName().equals(room))
                    .toList();
            page.append(String.format(
                    "| `%s` | %d | %d | %s |%n",
                    room,
                    own.size(),
                    own.stream().filter(House::isPublic).count(),
                    exported.contains(room) ? "yes" : "no"));
        }
        return page.append(String.format(
                        "%nOf %d top-level types, %d can be seen by users: %.0f %%.%n",
                        size(), visible().size(), 100.0 * visible().size() / size()))
                .toString();
    }
}
