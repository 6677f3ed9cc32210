package io.bathra.cli;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import io.bathra.Store;
import java.lang.module.ModuleDescriptor;
import java.lang.module.ModuleFinder;
import java.net.URISyntaxException;
import java.nio.file.Path;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** What stands on the library sees of it what every user sees. */
@AnalyzeClasses(
        packages = {"io.bathra.cli", "io.bathra.changes", "io.bathra.examples", "io.bathra.junit"},
        importOptions = DoNotIncludeTests.class)
class ArchitectureTest {
    private static final Set<String> EXPORTED = exported();

    @ArchTest
    static final ArchRule ONLY_EXPORTED_PACKAGES_ARE_USED = classes()
            .should()
            .onlyDependOnClassesThat(
                    new DescribedPredicate<>("are no part of the library, or in a package that it exports") {
                        @Override
                        public boolean test(JavaClass used) {
                            String room = used.getPackageName();
                            return !room.startsWith("io.bathra")
                                    || room.startsWith("io.bathra.cli")
                                    || room.startsWith("io.bathra.changes")
                                    || room.startsWith("io.bathra.examples")
                                    || room.startsWith("io.bathra.junit")
                                    || room.startsWith("io.bathra.json")
                                    || room.startsWith("io.bathra.jackson")
                                    || room.startsWith("io.bathra.page")
                                    || EXPORTED.contains(room);
                        }
                    });

    @Test
    void theLibraryExportsSomeOfItsPackages() {
        assertThat(EXPORTED)
                .contains("io.bathra", "io.bathra.model")
                .doesNotContain("io.bathra.sql", "io.bathra.flush");
    }

    private static Set<String> exported() {
        Path library;
        try {
            library = Path.of(Store.class
                    .getProtectionDomain()
                    .getCodeSource()
                    .getLocation()
                    .toURI());
        } catch (URISyntaxException e) {
            throw new IllegalStateException(e);
        }
        return ModuleFinder.of(library).findAll().stream()
                .flatMap(module -> module.descriptor().exports().stream())
                .map(ModuleDescriptor.Exports::source)
                .collect(Collectors.toSet());
    }
}
