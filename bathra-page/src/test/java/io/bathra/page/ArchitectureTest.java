package io.bathra.page;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import io.bathra.Store;
import java.lang.module.ModuleDescriptor;
import java.lang.module.ModuleFinder;
import java.nio.file.Path;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** What stands on the library sees of it what every user sees. */
class ArchitectureTest {
    private static final String[] OURS = {"io.bathra.page"};

    @Test
    void onlyExportedPackagesAreUsed() throws Exception {
        Path library = Path.of(
                Store.class.getProtectionDomain().getCodeSource().getLocation().toURI());
        Set<String> exported = ModuleFinder.of(library).findAll().stream()
                .flatMap(module -> module.descriptor().exports().stream())
                .map(ModuleDescriptor.Exports::source)
                .collect(Collectors.toSet());
        assertThat(exported).contains("io.bathra", "io.bathra.trace").doesNotContain("io.bathra.flush");
        JavaClasses classes = new ClassFileImporter()
                .withImportOption(new DoNotIncludeTests())
                .importPackages(OURS);
        assertThat(classes).hasSizeGreaterThan(8);
        noClasses()
                .should()
                .dependOnClassesThat(new DescribedPredicate<>("are in a package that the library does not export") {
                    @Override
                    public boolean test(JavaClass used) {
                        String room = used.getPackageName();
                        return room.startsWith("io.bathra")
                                && !room.startsWith("io.bathra.page")
                                && !exported.contains(room);
                    }
                })
                .check(classes);
    }
}
