package io.bathra;

import static com.tngtech.archunit.base.DescribedPredicate.not;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.belongToAnyOf;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAnyPackage;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.JavaAccess;
import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.library.Architectures.LayeredArchitecture;
import java.io.InvalidObjectException;
import java.io.ObjectStreamException;
import java.io.Serializable;

/** The layers of the design: arrows go down only, and what is pure stays so. */
@AnalyzeClasses(packages = "io.bathra", importOptions = DoNotIncludeTests.class)
class ArchitectureTest {
    @ArchTest
    static final ArchRule ARROWS_GO_DOWN = layers();

    private static ArchRule layers() {
        LayeredArchitecture rule = layeredArchitecture().consideringOnlyDependenciesInLayers();
        for (String room : House.ROOMS) {
            rule = rule.layer(room).definedBy(room);
        }
        for (int i = 0; i < House.ROOMS.size(); i++) {
            String[] above = House.ROOMS.subList(0, i).toArray(String[]::new);
            rule = i == 0
                    ? rule.whereLayer(House.ROOMS.get(i)).mayNotBeAccessedByAnyLayer()
                    : rule.whereLayer(House.ROOMS.get(i)).mayOnlyBeAccessedByLayers(above);
        }
        return rule;
    }

    @ArchTest
    static final ArchRule ONLY_THE_EDGE_KNOWS_JDBC = noClasses()
            .that()
            .resideOutsideOfPackages(
                    "io.bathra",
                    "io.bathra.ledger",
                    "io.bathra.flush",
                    "io.bathra.read",
                    "io.bathra.bulk",
                    "io.bathra.jdbc",
                    "io.bathra.catalogue")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage("java.sql", "javax.sql", "org.postgresql..", "org.h2..");

    @ArchTest
    static final ArchRule WHAT_IS_PURE_DOES_NO_IO = noClasses()
            .that()
            .resideOutsideOfPackages("io.bathra.ledger", "io.bathra.flush", "io.bathra.jdbc", "io.bathra.access")
            .should()
            .dependOnClassesThat(resideInAnyPackage("java.io", "java.nio.file..", "java.net..", "org.slf4j..")
                    .and(not(belongToAnyOf(
                            Serializable.class, ObjectStreamException.class, InvalidObjectException.class))));

    /** Whatever converts, cuts or checks a value by itself would store, compare or show it in its own way. */
    @ArchTest
    static final ArchRule VALUES_PASS_ONE_GATE = noClasses()
            .that()
            .haveNameNotMatching("io\\.bathra\\.(mapping\\.(Gate|Cut|Misfit)|attr\\.Converter)")
            .should()
            .accessTargetWhere(uses("io\\.bathra\\.mapping\\.(Cut|Misfit)", ".*"))
            .orShould()
            .accessTargetWhere(uses("io\\.bathra\\.attr\\.Converter", "(to|from)Stored"));

    @ArchTest
    static final ArchRule VALUES_ARE_BOUND_IN_ONE_PLACE = noClasses()
            .that()
            .haveNameNotMatching("io\\.bathra\\.jdbc\\.(Binding|\\w*Database)")
            .should()
            .accessTargetWhere(uses("io\\.bathra\\.jdbc\\.\\w*Database", "bind|bindArray|toJdbc"));

    private static DescribedPredicate<JavaAccess<?>> uses(String owners, String members) {
        return DescribedPredicate.describe(
                members + " of " + owners,
                access -> access.getTargetOwner().getName().matches(owners)
                        && access.getName().matches(members));
    }

    private static final String PRODUCTS = "(H2|Postgres|MariaDb|Sqlite)";

    @ArchTest
    static final ArchRule WHAT_IS_PARTICULAR_TO_A_DATABASE_IS_CHOSEN_IN_ONE_PLACE = classes()
            .that()
            .haveNameMatching("io\\.bathra\\.(sql|jdbc|catalogue)\\." + PRODUCTS + ".*")
            .should()
            .onlyBeAccessed()
            .byClassesThat()
            .haveNameMatching("io\\.bathra\\.(sql|jdbc|catalogue)\\.(" + PRODUCTS + ".*|Database)");

    @ArchTest
    static final ArchRule DRIVERS_ARE_KNOWN_TO_THE_CLASSES_OF_THEIR_DATABASE_ALONE = noClasses()
            .that()
            .haveNameNotMatching("io\\.bathra\\.jdbc\\." + PRODUCTS + ".*")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage("org.h2..", "org.postgresql..", "org.mariadb..", "org.sqlite..");

    /** What a native image has to be told follows from what is reached like this; the tool's hints go by it. */
    @ArchTest
    static final ArchRule REFLECTION_HAS_FEW_DOORS = noClasses()
            .that()
            .haveNameNotMatching(
                    "io\\.bathra\\.(access\\.(Accessor|RecordMaker)|mapping\\.(FieldHandles|Handles)|form\\.Fields"
                            + "|model\\.(PersistentField|ColumnAssembly)|bulk\\.RowReading|query\\.Sql"
                            + "|read\\.(RowForm|RecordAttributes|Outsiders)|jdbc\\.Piece)(\\$.*)?")
            .should()
            .accessTargetWhere(uses(
                    "java\\.lang\\.Class|java\\.lang\\.invoke\\.MethodHandles\\$Lookup",
                    "(getDeclared|getRecordComp|getMethod|getField|getConstructor|forName|find|unreflect).*"))
            .orShould()
            .dependOnClassesThat()
            .haveNameMatching("java\\.lang\\.reflect\\.Proxy|java\\.lang\\.ClassLoader");
}
