package io.bathra;

import static com.tngtech.archunit.base.DescribedPredicate.not;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.belongToAnyOf;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAnyPackage;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.library.Architectures.LayeredArchitecture;
import java.io.InvalidObjectException;
import java.io.ObjectStreamException;
import java.io.Serializable;
import java.util.List;

/** The layers of the design: arrows go down only, and what is pure stays so. */
@AnalyzeClasses(packages = "io.bathra", importOptions = DoNotIncludeTests.class)
class ArchitectureTest {
    /** From top to bottom; each may use those below it. */
    private static final List<String> LAYERS = List.of(
            "", "bulk", "jdbc", "sql", "plan", "schema", "track", "model", "query", "link", "attr", "access", "trace",
            "text", "error");

    @ArchTest
    static final ArchRule ARROWS_GO_DOWN = layers();

    private static ArchRule layers() {
        LayeredArchitecture rule = layeredArchitecture().consideringOnlyDependenciesInLayers();
        for (String layer : LAYERS) {
            rule = rule.layer(name(layer)).definedBy(name(layer));
        }
        for (int i = 0; i < LAYERS.size(); i++) {
            String[] above =
                    LAYERS.subList(0, i).stream().map(ArchitectureTest::name).toArray(String[]::new);
            rule = i == 0
                    ? rule.whereLayer(name("")).mayNotBeAccessedByAnyLayer()
                    : rule.whereLayer(name(LAYERS.get(i))).mayOnlyBeAccessedByLayers(above);
        }
        return rule;
    }

    private static String name(String layer) {
        return layer.isEmpty() ? "io.bathra" : "io.bathra." + layer;
    }

    @ArchTest
    static final ArchRule EVERY_CLASS_IS_IN_A_LAYER = classes()
            .should()
            .resideInAnyPackage(LAYERS.stream().map(ArchitectureTest::name).toArray(String[]::new));

    @ArchTest
    static final ArchRule ONLY_THE_EDGE_KNOWS_JDBC = noClasses()
            .that()
            .resideOutsideOfPackages("io.bathra", "io.bathra.bulk", "io.bathra.jdbc")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage("java.sql", "javax.sql", "org.postgresql..", "org.h2..");

    @ArchTest
    static final ArchRule WHAT_IS_PURE_DOES_NO_IO = noClasses()
            .that()
            .resideOutsideOfPackages("io.bathra", "io.bathra.jdbc", "io.bathra.attr")
            .should()
            .dependOnClassesThat(resideInAnyPackage("java.io", "java.nio.file..", "java.net..", "org.slf4j..")
                    .and(not(belongToAnyOf(
                            Serializable.class, ObjectStreamException.class, InvalidObjectException.class))));

    @ArchTest
    static final ArchRule WHAT_IS_PARTICULAR_TO_A_DATABASE_IS_CHOSEN_IN_ONE_PLACE = classes()
            .that()
            .haveNameMatching("io\\.bathra\\.(sql|jdbc)\\.(H2|Postgres).*")
            .should()
            .onlyBeAccessed()
            .byClassesThat()
            .haveNameMatching("io\\.bathra\\.(sql|jdbc)\\.(H2.*|Postgres.*|Database)");
}
