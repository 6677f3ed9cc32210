package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assumptions.assumeThat;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaCodeUnit;
import com.tngtech.archunit.core.domain.JavaField;
import com.tngtech.archunit.core.domain.JavaModifier;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import java.io.IOException;
import java.lang.module.ModuleDescriptor;
import java.lang.module.ModuleFinder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What a module has shown in a release, it shows in the next one. */
class PublishedApiTest {
    private static final Path ROOT = Path.of("").toAbsolutePath().getParent();

    @ParameterizedTest
    @ValueSource(
            strings = {
                "bathra-core",
                "bathra-changes",
                "bathra-json",
                "bathra-jackson2",
                "bathra-jackson3",
                "bathra-page",
                "bathra-junit",
                "bathra-micrometer",
                "bathra-spring"
            })
    void whatWasReleasedIsStillThere(String module) throws IOException {
        Path classes = ROOT.resolve(module).resolve("target/classes");
        assumeThat(classes).as("the module was not built").exists();
        Path file = ROOT.resolve("docs/api").resolve(module + ".txt");
        Set<String> shown = shown(classes);
        if (System.getProperty("api.draw") != null) {
            Files.createDirectories(file.getParent());
            Files.writeString(file, String.join("\n", shown) + "\n");
        }
        List<String> gone = Files.readAllLines(file).stream()
                .filter(line -> !shown.contains(line))
                .toList();
        assertThat(gone)
                .as("members of %s that users may call are gone; docs/compatibility.md says how that goes", module)
                .isEmpty();
    }

    /** Each public or protected member of an exported package, in a line; of all packages where there is no module. */
    private static Set<String> shown(Path classes) {
        Set<String> exported = ModuleFinder.of(classes).findAll().stream()
                .flatMap(module -> module.descriptor().exports().stream())
                .filter(export -> export.targets().isEmpty())
                .map(ModuleDescriptor.Exports::source)
                .collect(Collectors.toSet());
        return new ClassFileImporter()
                .importPath(classes).stream()
                        .filter(type ->
                                (exported.isEmpty() || exported.contains(type.getPackageName())) && isShown(type))
                        .flatMap(PublishedApiTest::lines)
                        .collect(Collectors.toCollection(TreeSet::new));
    }

    private static boolean isShown(JavaClass type) {
        return isShown(type.getModifiers())
                && type.getEnclosingClass().map(PublishedApiTest::isShown).orElse(true)
                && !type.isAnonymousClass();
    }

    private static boolean isShown(Set<JavaModifier> modifiers) {
        return (modifiers.contains(JavaModifier.PUBLIC) || modifiers.contains(JavaModifier.PROTECTED))
                && !modifiers.contains(JavaModifier.SYNTHETIC);
    }

    private static Stream<String> lines(JavaClass type) {
        String name = type.getName();
        boolean open = !type.getModifiers().contains(JavaModifier.FINAL);
        Stream<String> units = type.getCodeUnits().stream()
                .filter(unit -> isShown(unit.getModifiers())
                        && (open || unit.getModifiers().contains(JavaModifier.PUBLIC)))
                .map(unit -> name + " " + signature(unit));
        Stream<String> fields = type.getFields().stream()
                .filter(field -> isShown(field.getModifiers()))
                .map(field -> name + " " + field(field));
        return Stream.concat(Stream.of(name), Stream.concat(units, fields));
    }

    private static String signature(JavaCodeUnit unit) {
        String parameters =
                unit.getRawParameterTypes().stream().map(JavaClass::getName).collect(Collectors.joining(", "));
        return statically(unit.getModifiers()) + unit.getName() + "(" + parameters + "): "
                + unit.getRawReturnType().getName();
    }

    private static String field(JavaField field) {
        return statically(field.getModifiers()) + field.getName() + ": "
                + field.getRawType().getName();
    }

    private static String statically(Set<JavaModifier> modifiers) {
        return modifiers.contains(JavaModifier.STATIC) ? "static " : "";
    }
}
