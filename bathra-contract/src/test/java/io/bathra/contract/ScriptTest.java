package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.UniqueViolation;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** One statement a call, scripts by a call of their own, and what triggers do behind one's back. */
@OnEachDatabase
class ScriptTest {
    static final class Buoy {
        Long id;
        String name;

        Long id() {
            return id;
        }

        String name() {
            return name;
        }

        static Buoy of(String name) {
            Buoy buoy = new Buoy();
            buoy.name = name;
            return buoy;
        }
    }

    private final TestDatabase database;
    private final Store store;

    ScriptTest(TestDatabase database) {
        this.database = database;
        store = Trips.open(
                Model.of("buoys", Entity.of(Buoy.class, Buoy::new).column(Buoy::name, length(40))), database.empty());
        store.schema().createMissing();
        store.run(work -> work.add(Buoy.of("red")));
    }

    @AfterEach
    void close() {
        store.close();
    }

    private String name() {
        return store.sql("select name from buoy").as(String.class).one();
    }

    @Test
    void severalStatementsInOneTextAreRefusedAndNoneIsExecuted() {
        for (String text : List.of(
                "update buoy set name = 'green'; commit",
                "update buoy set name = 'green' ; /* and */ delete from buoy",
                "update buoy set name = 'green';; select 1",
                "update buoy set name = 'gr;een'; --\n delete from buoy")) {
            assertThatThrownBy(() -> store.transaction(tx -> tx.sql(text).execute()))
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("several statements in one text");
            assertThatThrownBy(() -> store.run(work -> work.sql(text).list()))
                    .hasMessageContaining("several statements in one text");
        }
        assertThat(name()).isEqualTo("red");
        assertThatThrownBy(() -> store.sql("create table event (begin integer); delete from buoy")
                        .execute())
                .hasMessageContaining("several statements in one text");
        for (String text : List.of(
                "update buoy set name = 'a;b';",
                "update buoy set name = 'a;b' ; ; -- done; really",
                "update buoy set name = /* ; */ 'a;b' ;\n/* ; */")) {
            store.run(work -> work.from(Buoy.class).update(the(Buoy::name).to("red")));
            store.sql(text).execute();
            assertThat(name()).isEqualTo("a;b");
        }
    }

    /** Each database has literals and comments of its own. */
    @Test
    void eachDatabaseIsReadAsItReads() {
        List<String> one = switch (database) {
            case POSTGRESQL ->
                List.of(
                        "update buoy set name = E'it\\'s; :not'",
                        "update buoy set name = $$it's; :not$$",
                        "update buoy set name = $x$it's; :not$x$ /* a /* b; */ c; */");
            case MARIADB ->
                List.of(
                        "update buoy set name = 'it\\'s; :not'",
                        "update buoy set name = \"it's; :not\" # ; commit",
                        "update buoy set name = 'it''s; :not' -- ; commit");
            case H2 -> List.of("update buoy set name = $$it's; :not$$ /* a /* b; */ c; */");
            case SQLITE -> List.of("update buoy set name = 'it''s; :not' /* a; /* b; */");
        };
        for (String text : one) {
            assertThat(store.sql(text).execute()).as(text).isOne();
            assertThat(name()).as(text).isEqualTo("it's; :not");
        }
        if (database == TestDatabase.MARIADB) {
            assertThatThrownBy(() -> store.sql("update buoy set name = 'x' /*! ; commit */")
                            .execute())
                    .hasMessageContaining("several statements");
            assertThat(store.sql("select 3--1").as(Long.class).one()).isEqualTo(4);
        }
    }

    @Test
    void aScriptIsExecutedStatementByStatement() {
        String body = switch (database) {
            case H2 -> "";
            case SQLITE ->
                "create trigger loud after insert on buoy begin"
                        + " update buoy set name = case when name = 'x' then 'y' else upper(name) end where id = new.id; end;";
            case POSTGRESQL ->
                "create function loud() returns trigger language plpgsql as $$ begin new.name = upper(new.name);"
                        + " return new; end $$;"
                        + " create trigger loud before insert on buoy for each row execute function loud();";
            case MARIADB ->
                "create trigger loud before insert on buoy for each row begin"
                        + " if new.name <> 'x' then set new.name = upper(new.name); end if; end;";
        };
        int statements = store.script("-- what a harbour needs\ncreate table mole (name varchar(20));\n"
                + "insert into mole (name) values ('a;b'); ;\n" + body + "delete from buoy -- the last one");
        assertThat(statements).isGreaterThanOrEqualTo(3);
        assertThat(store.sql("select name from mole").as(String.class).list()).containsExactly("a;b");
        store.run(work -> work.add(Buoy.of("blue")));
        assertThat(name()).isEqualTo(database == TestDatabase.H2 ? "blue" : "BLUE");
        BathraException failure = catchThrowableOfType(
                BathraException.class,
                () -> store.script("delete from mole; delete from nothing_known; delete from buoy"));
        assertThat(failure.getSuppressed()[0]).hasMessageContaining("statement 2 of 3");
        assertThat(store.sql("select count(*) from mole").as(Integer.class).one())
                .isZero();
        assertThat(name()).isNotNull();
        assertThat(store.<Integer, RuntimeException>transaction(
                        tx -> tx.script("insert into mole (name) values ('x'); delete from mole;")))
                .isEqualTo(2);
    }

    /** What a trigger holds back is there as it was: to try again is of no use. */
    @Test
    void whatATriggerHoldsBackIsSaid() {
        if (database != TestDatabase.POSTGRESQL) {
            return; // the triggers of others cannot leave a row out without an error
        }
        store.script("create function no() returns trigger language plpgsql as $$ begin return null; end $$;"
                + "create trigger no before update or delete on buoy for each row execute function no()");
        AtomicInteger attempts = new AtomicInteger();
        for (boolean removed : new boolean[] {false, true}) {
            assertThatThrownBy(() -> store.run(Terms.retrying(5), work -> {
                        attempts.incrementAndGet();
                        Buoy buoy = work.from(Buoy.class).one();
                        if (removed) {
                            work.remove(buoy);
                        } else {
                            buoy.name = "green";
                        }
                    }))
                    .isInstanceOf(BathraException.class)
                    .isNotInstanceOf(ConcurrentChangeException.class)
                    .hasMessageContaining("the database did not " + (removed ? "delete" : "update") + " Buoy ")
                    .hasMessageContaining("look for a trigger");
        }
        assertThat(attempts).hasValue(2);
    }

    @Test
    void whatNoTransactionTakesIsDoneWithoutOne() {
        List<String> alone = switch (database) {
            case H2 -> List.of("analyze");
            case SQLITE -> List.of("vacuum");
            case POSTGRESQL -> List.of("vacuum buoy", "create index concurrently buoy_by_name on buoy (name)");
            case MARIADB -> List.of("create database if not exists beside_buoys", "drop database beside_buoys");
        };
        for (String statement : alone) {
            store.sql(statement).withoutTransaction().execute();
        }
        if (database == TestDatabase.SQLITE || database == TestDatabase.POSTGRESQL) {
            assertThatThrownBy(() -> store.sql(alone.get(0)).execute()).isInstanceOf(BathraException.class);
        }
        store.sql("update buoy set name = :name")
                .with("name", "green")
                .withoutTransaction()
                .execute();
        assertThat(store.sql("select name from buoy")
                        .withoutTransaction()
                        .as(String.class)
                        .list())
                .containsExactly("green");
        assertThatThrownBy(() -> store.sql("insert into buoy (id, name) values (:id, :name)")
                        .withoutTransaction()
                        .executeAll(List.of(Map.of("id", 1, "name", "twice"))))
                .isInstanceOf(UniqueViolation.class);
        assertThat(name()).isEqualTo("green");
    }

    @Test
    void aTransactionThatIsUnderWayIsNotLeftBehind() {
        assertThatThrownBy(() -> store.run(work -> work.sql("analyze").withoutTransaction()))
                .hasMessageContaining("store.sql(...).withoutTransaction()");
        assertThatThrownBy(() -> store.transaction(tx -> tx.sql("analyze").withoutTransaction()))
                .hasMessageContaining("store.sql(...).withoutTransaction()");
        assertThatThrownBy(() -> store.sql("select name from buoy").withoutTransaction().stream())
                .hasMessageContaining("within a transaction alone");
    }
}
