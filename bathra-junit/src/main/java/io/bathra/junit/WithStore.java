package io.bathra.junit;

import io.bathra.model.ModelSource;
import java.lang.annotation.Documented;
import java.lang.annotation.ElementType;
import java.lang.annotation.Inherited;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;
import org.junit.jupiter.api.extension.ExtendWith;

/**
 * Gives the tests of a class a store: parameters of type {@link io.bathra.Store}, {@link io.bathra.UnitOfWork} or
 * {@link StoreExtension} are filled. A unit of work is begun for the test and closed after it; what it has not committed
 * is gone.
 *
 * <pre>{@code
 * @WithStore(model = HarbourSource.class)
 * class BerthsTest {
 *     @Test
 *     void anEmptyHarbourHasNoBerths(UnitOfWork work) {
 *         assertThat(work.from(Berth.class).count()).isZero();
 *     }
 * }
 * }</pre>
 */
@Documented
@Inherited
@Target(ElementType.TYPE)
@Retention(RetentionPolicy.RUNTIME)
@ExtendWith(AnnotatedStore.class)
public @interface WithStore {
    /** {@return where the model is found; the class has a constructor without parameters} */
    Class<? extends ModelSource> model();

    /** {@return where the tables are} */
    Database on() default Database.H2;

    /** {@return whether a test's work is rolled back, instead of the tables being emptied before each test} */
    boolean rollingBack() default false;

    /** A database that needs no URL. */
    enum Database {
        /** H2. */
        H2,
        /** SQLite. */
        SQLITE,
        /** PostgreSQL. */
        POSTGRESQL,
        /** MariaDB. */
        MARIADB;

        TestDatabase database() {
            return switch (this) {
                case H2 -> TestDatabase.h2();
                case SQLITE -> TestDatabase.sqlite();
                case POSTGRESQL -> TestDatabase.postgresql();
                case MARIADB -> TestDatabase.mariadb();
            };
        }
    }
}
