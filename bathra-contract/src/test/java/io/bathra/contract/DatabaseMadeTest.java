package io.bathra.contract;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.changedByDatabase;
import static io.bathra.model.Declare.computed;
import static io.bathra.model.Declare.databaseDefault;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.secret;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowable;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.UniqueViolation;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.List;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;

/** Values in which the database has a part, and values that nobody may see. */
@OnEachDatabase
class DatabaseMadeTest {
    static final class Cargo {
        private Long id;
        private String state;
        private int crates;
        private int perCrate = 10;
        private Integer pieces;
        private String mark;

        Long id() {
            return id;
        }

        String state() {
            return state;
        }

        Integer pieces() {
            return pieces;
        }

        String mark() {
            return mark;
        }

        static Cargo of(int crates) {
            Cargo cargo = new Cargo();
            cargo.crates = crates;
            cargo.mark = "nordlicht " + crates;
            return cargo;
        }
    }

    static final class Account {
        private String user;
        private String pin;

        String user() {
            return user;
        }

        String pin() {
            return pin;
        }

        static Account of(String user, String pin) {
            Account account = new Account();
            account.user = user;
            account.pin = pin;
            return account;
        }
    }

    static final Entity<?>[] ENTITIES = {
        Entity.of(Cargo.class, Cargo::new)
                .column(Cargo::state, required(), length(10), databaseDefault("'expected'"))
                .column(Cargo::pieces, computed("crates * per_crate"))
                .column(Cargo::mark, length(20), changedByDatabase()),
        Entity.of(Account.class, Account::new)
                .key(Account::user, assigned())
                .column(Account::pin, required(), length(8), unique(), secret())
    };

    static final Model MODEL = Model.of("cargo", ENTITIES);

    private final Store store;

    DatabaseMadeTest(TestDatabase database) {
        DataSource source = database.empty();
        store = Trips.open(MODEL, source);
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
        for (String sql : trigger(database)) {
            TestDatabase.execute(source, sql);
        }
    }

    private static List<String> trigger(TestDatabase database) {
        return switch (database) {
            case H2 ->
                List.of("create trigger capitals before insert, update on cargo for each row call"
                        + " 'io.bathra.testing.CapitalsTrigger'");
            case SQLITE ->
                List.of(
                        "create trigger capitals_in after insert on cargo begin update cargo set mark = upper(mark) where id ="
                                + " new.id; end",
                        "create trigger capitals_up after update of mark on cargo when new.mark <> upper(new.mark) begin update"
                                + " cargo set mark = upper(mark) where id = new.id; end");
            case POSTGRESQL ->
                List.of(
                        "create function capitals() returns trigger language plpgsql as $$ begin new.mark := upper(new.mark);"
                                + " return new; end $$",
                        "create trigger capitals before insert or update on cargo for each row execute function capitals()");
            case MARIADB ->
                List.of(
                        "create trigger capitals_in before insert on cargo for each row set new.mark = upper(new.mark)",
                        "create trigger capitals_up before update on cargo for each row set new.mark = upper(new.mark)");
        };
    }

    @Test
    void whatTheDatabaseHasMadeGoesBackWithTheRow() {
        try (UnitOfWork work = store.begin()) {
            Cargo cargo = Cargo.of(3);
            work.add(cargo);
            work.flush();
            assertThat(cargo.pieces).isEqualTo(30);
            work.rollback();
            assertThat(cargo.pieces).isNull();
            assertThat(cargo.state).isNull();
            assertThat(cargo.mark).isEqualTo("nordlicht 3");
            work.flush();
            assertThat(cargo.pieces).isEqualTo(30);
            work.rollback();
            work.discard();
        }
    }

    @Test
    void whatTheDatabaseMakesIsInTheObjectAfterTheFlush() {
        for (int rows : new int[] {1, 7}) {
            List<Cargo> cargo = IntStream.range(0, rows).mapToObj(Cargo::of).toList();
            try (UnitOfWork work = store.begin()) {
                cargo.forEach(work::add);
                cargo.get(0).state = "loaded";
                work.flush();
                assertThat(cargo.get(0).state).isEqualTo("loaded");
                assertThat(cargo)
                        .extracting(Cargo::state)
                        .filteredOn("expected"::equals)
                        .hasSize(rows - 1);
                assertThat(cargo).allSatisfy(one -> {
                    assertThat(one.pieces).isEqualTo(one.crates * 10);
                    assertThat(one.mark).isEqualTo("NORDLICHT " + one.crates);
                    assertThat(work.standing(one)).isEqualTo(Standing.CLEAN);
                });

                cargo.forEach(one -> {
                    one.crates += 100;
                    one.mark = "sundwind";
                });
                work.flush();
                assertThat(cargo).allSatisfy(one -> {
                    assertThat(one.pieces).isEqualTo(one.crates * 10);
                    assertThat(one.mark).isEqualTo("SUNDWIND");
                    assertThat(work.standing(one)).isEqualTo(Standing.CLEAN);
                });
                cargo.get(0).pieces = -1;
                assertThat(work.plan().isEmpty())
                        .as("a computed value is never written")
                        .isTrue();
            }
        }
    }

    @Test
    void secretsAppearNowhere() {
        store.run(work -> work.add(Account.of("kim", "7351")));
        try (UnitOfWork work = store.begin()) {
            work.add(Account.of("lee", "7351"));
            Throwable refused = catchThrowable(work::flush);
            assertThat(refused).isInstanceOf(UniqueViolation.class).hasMessageContaining("Account.pin");
            assertThat(refused).hasStackTraceContaining("withheld");
            for (Throwable e = refused; e != null; e = e.getCause()) {
                assertThat(e.toString()).doesNotContain("7351");
            }
        }
        try (UnitOfWork work = store.begin()) {
            Account kim =
                    work.from(Account.class).where(the(Account::pin).is("7351")).one();
            kim.pin = "7351 and far too long";
            assertThat(work.changes()).hasToString("[Account kim.pin: (secret) -> (secret)]");
            assertThatThrownBy(work::flush)
                    .hasMessageContaining("kim.pin = (secret): is 21 long")
                    .message()
                    .doesNotContain("7351");
            kim.pin = "7352";
            assertThatThrownBy(() -> work.from(Account.class)
                            .where(the(Account::pin).is("7351"))
                            .one())
                    .hasMessageContaining("from Account where (secret)");
            assertThat(work.trace().toString()).contains("(secret)").doesNotContain("735");
        }
    }
}
