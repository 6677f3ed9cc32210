package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.UniqueViolation;
import io.bathra.error.UnitStateException;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.List;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A query of the user's may write without saying so, by a function: that is lost by no failure behind it. */
@OnEachDatabase
class QueryThatWritesTest extends BoatContract {
    private static final String NOTE = "select note() as name";

    QueryThatWritesTest(TestDatabase database) {
        super(database);
    }

    @BeforeEach
    void aFunctionThatWrites() {
        assumeThat(database).as("its functions write nothing").isNotEqualTo(TestDatabase.SQLITE);
        TestDatabase.execute(plain, "create table notes (id integer)");
        TestDatabase.execute(
                plain,
                switch (database) {
                    case H2 ->
                        "create alias note as 'String note(java.sql.Connection c) throws java.sql.SQLException {"
                                + " c.createStatement().execute(\"insert into notes values (1)\"); return \"noted\"; }'";
                    case POSTGRESQL ->
                        "create function note() returns text language sql as"
                                + " 'insert into notes values (1); select ''noted'''";
                    case MARIADB ->
                        "create function note() returns text modifies sql data begin"
                                + " insert into notes values (1); return 'noted'; end";
                    case SQLITE -> "";
                });
    }

    private long notes() {
        return TestDatabase.count(plain, "notes");
    }

    /** Ways to ask, of which one does not get as far as an object. */
    private static Stream<Consumer<UnitOfWork>> ways() {
        return Stream.of(
                work -> work.sql(NOTE).list(),
                work -> assertThatThrownBy(() -> work.sql(NOTE).as(Owner.class).list())
                        .hasMessageContaining("the column 'id' of Owner is not in the answer"),
                work -> {
                    try (Stream<?> stream = work.sql(NOTE).stream()) {
                        assertThat(stream.iterator().hasNext()).isTrue();
                    }
                });
    }

    @Test
    void aFlushThatFailsTakesBackItselfAlone() {
        List<Consumer<UnitOfWork>> ways = ways().toList();
        for (int i = 0; i < ways.size(); i++) {
            Boat again = new Boat("A");
            try (UnitOfWork work = store.begin()) {
                ways.get(i).accept(work);
                work.add(again);
                assertThatThrownBy(work::flush).isInstanceOf(UniqueViolation.class);
                again.code = "New" + i;
                work.commit();
            }
            assertThat(notes()).as("after way " + i).isEqualTo(i + 1);
        }
    }

    @Test
    void aQueryThatFailsIsNotPassedOver() {
        List<Consumer<UnitOfWork>> failing = List.of(
                work -> work.sql("select nothing from nowhere").list(),
                work -> work.sql(NOTE).as(Integer.class).list());
        for (Consumer<UnitOfWork> one : failing) {
            try (UnitOfWork work = store.begin()) {
                work.sql(NOTE).list();
                assertThatThrownBy(() -> one.accept(work)).isInstanceOf(BathraException.class);
                work.add(new Boat("D"));
                assertThatThrownBy(work::commit)
                        .isInstanceOf(UnitStateException.class)
                        .hasMessageContaining("a statement of this transaction has failed");
                work.rollback();
            }
        }
        assertThat(notes()).isZero();
    }

    @Test
    void aQueryThatFailsByItselfCostsNothing() {
        try (UnitOfWork work = store.begin()) {
            assertThatThrownBy(() -> work.sql("select nothing from nowhere").list())
                    .isInstanceOf(BathraException.class);
            work.add(new Boat("D"));
            work.commit();
        }
        assertThat(TestDatabase.count(plain, "boat")).isEqualTo(4);
    }
}
