package io.bathra.contract;

import static io.bathra.Terms.retrying;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowable;

import io.bathra.PlainTransaction;
import io.bathra.SqlCall;
import io.bathra.Standing;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.NotExactlyOneException;
import io.bathra.error.UniqueViolation;
import io.bathra.error.UnitStateException;
import io.bathra.error.UnreadLinkException;
import io.bathra.query.Sql;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Plain SQL on a store, in a transaction without tracking, and in a unit of work. */
@OnEachDatabase
class PlainSqlTest extends BoatContract {
    /** {@code crewSize} is filled from a column in snake case. */
    record Line(String code, Integer seats, long crewSize) {}

    record Codes(List<String> codes, String prefix) {}

    private static final Sql<Line> LINES = Sql.of(
                    "select b.code, b.seats, (select count(*) from boat_crew c where c.boat_id = b.id) as crew_size"
                            + " from boat b where b.code in (:codes) and b.name like :prefix order by b.code")
            .as(Line.class);

    PlainSqlTest(TestDatabase database) {
        super(database);
    }

    private static List<Line> lines(SqlCall<Line> call) {
        return call.with(new Codes(List.of("A", "C"), "boat%")).list();
    }

    /** PostgreSQL's driver takes them for times without a zone. */
    @Test
    void timesWithAZoneComeWithIt() {
        if (database != TestDatabase.POSTGRESQL) {
            return;
        }
        Map<String, Object> row = store.sql(
                        "select timestamptz '2026-04-01 06:30:00+00' as at, timetz '06:30:00+02' as daily,"
                                + " timestamp '2026-04-01 06:30:00' as there, time '06:30:00' as clock")
                .one();
        assertThat((OffsetDateTime) row.get("at")).isAtSameInstantAs(OffsetDateTime.parse("2026-04-01T06:30:00Z"));
        assertThat(row.get("daily")).isEqualTo(OffsetTime.parse("06:30:00+02:00"));
        assertThat(row.get("there")).isEqualTo(LocalDateTime.of(2026, 4, 1, 6, 30));
        assertThat(row.get("clock")).isEqualTo(LocalTime.of(6, 30));
    }

    @Test
    void oneStatementRunsOnThreeLevels() {
        List<Line> expected = List.of(new Line("A", null, 2), new Line("C", null, 2));
        assertThat(lines(store.sql(LINES))).isEqualTo(expected);
        List<Line> inTransaction = store.transaction(tx -> lines(tx.sql(LINES)));
        assertThat(inTransaction).isEqualTo(expected);
        store.run(work -> assertThat(lines(work.sql(LINES))).isEqualTo(expected));
        assertThat(store.sql(LINES)
                        .with("codes", new String[] {"B"})
                        .with("prefix", "%")
                        .one())
                .isEqualTo(new Line("B", null, 2));
    }

    @Test
    void aRowBecomesWhatIsAskedFor() {
        assertThat(store.sql("select count(*) from boat").as(Long.class).one()).isEqualTo(3);
        assertThat(store.sql("select max(seats) from boat").as(Integer.class).first())
                .isEmpty();
        assertThat(store.sql("select count(id) + 0.50 from boat")
                        .as(BigDecimal.class)
                        .one())
                .isEqualTo(new BigDecimal("3.5"));
        Map<String, Object> map = store.sql("select code, name as Title from boat where id = :id")
                .with("id", key(1))
                .one();
        assertThat(map).containsExactly(Map.entry("code", "A"), Map.entry("title", "boat A"));
        Boat boat =
                store.sql("select * from boat where code = 'B'").as(Boat.class).one();
        assertThat(boat.name).isEqualTo("boat B");
        assertThat(boat.crew).containsExactly("Piet", "Klaas");
        assertThat(boat.owner.key()).isEqualTo(1L);
        assertThatThrownBy(boat.owner::get).isInstanceOf(UnreadLinkException.class);
    }

    @Test
    void whatDoesNotFitIsSaid() {
        assertThatThrownBy(
                        () -> store.sql("select code from boat").as(Line.class).list())
                .hasMessageContaining("no column for Line.seats in the answer, which has [code]");
        assertThatThrownBy(() -> store.sql("select code, seats, seats as crew_size from boat")
                        .as(Line.class)
                        .list())
                .hasMessageContaining("Line.crewSize, which is a primitive long");
        assertThatThrownBy(() -> store.sql("select code, name from boat")
                        .as(String.class)
                        .list())
                .hasMessageContaining("a String is made of one column, but the answer has [code, name]");
        assertThatThrownBy(
                        () -> store.sql("select code, name as code from boat").list())
                .hasMessageContaining("two columns of the answer are called 'code'");
        assertThatThrownBy(
                        () -> store.sql("select code from boat").as(Boat.class).list())
                .hasMessageContaining("the column 'id' of Boat is not in the answer");
        assertThatThrownBy(() ->
                        store.sql("select code from boat").as(Thread.class).list())
                .hasMessageContaining("no row becomes a java.lang.Thread");
        assertThatThrownBy(() ->
                        store.sql("select code from boat").as(String.class).one())
                .isInstanceOf(NotExactlyOneException.class)
                .hasMessageContaining("select code from boat");
        assertThatThrownBy(() -> store.sql("select * from boat where id = :id").list())
                .hasMessageContaining("the parameter ':id' has no value");
        assertThatThrownBy(() -> store.sql("select * from boat").with("idd", 1).list())
                .hasMessageContaining("a value is given for ':idd', but the statement has no parameters");
        assertThatThrownBy(() -> store.sql("select * from boat where id in (:ids)")
                        .with("ids", List.of())
                        .list())
                .hasMessageContaining("the list for ':ids' is empty");
        assertThatThrownBy(() -> store.sql("select * from boat where id = ?").list())
                .hasMessageContaining("a placeholder has no name");
        assertThatThrownBy(() -> store.sql("commit").execute()).hasMessageContaining("behind Bathra's back");
        assertThatThrownBy(() -> store.sql("select 'x from boat").list()).hasMessageContaining("does not end");
        assertThatThrownBy(() -> store.sql(" -- nothing\n").list()).hasMessageContaining("empty");
    }

    @Test
    void colonsMeanNothingInLiteralsCommentsAndNames() {
        String text =
                "select ':a' as \"q:b\", /* :c */ 'it''s :d' as y, -- :e\n name as z from boat where code = :code";
        if (database == TestDatabase.MARIADB) {
            text = text.replace('"', '`').replace("''", "\\'");
        }
        Map<String, Object> row = store.sql(text).with("code", "A").one();
        assertThat(row).containsEntry("q:b", ":a").containsEntry("y", "it's :d").containsEntry("z", "boat A");
        if (database == TestDatabase.POSTGRESQL) {
            assertThat(store.sql("select E'\\':a' || $$:b$$ || :c::text || $x$ ' :d $x$")
                            .with("c", 1)
                            .as(String.class)
                            .one())
                    .isEqualTo("':a:b1 ' :d ");
        }
    }

    @Test
    void valuesAreBoundWhateverTheyHold() {
        for (String evil : List.of("'; drop table boat; --", ":code", "\\", "%", "\u0000x".substring(1), "ä€𝄞")) {
            assertThat(store.sql("update boat set name = :name where code = :code")
                            .with("name", evil)
                            .with("code", "A")
                            .execute())
                    .isEqualTo(1);
            assertThat(store.sql("select code from boat where name = :name")
                            .with("name", evil)
                            .as(String.class)
                            .list())
                    .containsExactly("A");
        }
        assertThat(store.sql("select cast(:day as " + (database == TestDatabase.SQLITE ? "text" : "date") + ")")
                        .with("day", LocalDate.of(2026, 3, 1))
                        .as(LocalDate.class)
                        .one())
                .isEqualTo(LocalDate.of(2026, 3, 1));
        store.sql("update boat set name = :nothing, seats = :seats where code = 'A'")
                .with("nothing", null)
                .with("seats", 4)
                .execute();
        assertThat(store.sql("select seats from boat where name is null")
                        .as(Integer.class)
                        .one())
                .isEqualTo(4);
        assertThatThrownBy(() -> store.sql("select :x").with("x", new Object()).list())
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("the value for ':x' is of java.lang.Object");
    }

    @Test
    void aStatementIsExecutedForManySetsOfValues() {
        record Seats(String code, int seats) {}
        List<Seats> rows = List.of(new Seats("A", 1), new Seats("B", 2), new Seats("none", 3));
        Sql<?> update = Sql.of("update boat set seats = :seats where code = :code");
        assertThat(store.sql(update).executeAll(rows)).containsExactly(1, 1, 0);
        List<Map<String, Object>> many = IntStream.range(0, 2_500)
                .mapToObj(i -> Map.<String, Object>of("name", "owner " + i))
                .toList();
        int counted = store.transaction(
                tx -> tx.sql("insert into owner (name) values (:name)").executeAll(many).length);
        assertThat(counted).isEqualTo(2_500);
        assertThat(store.sql("select count(*) from owner").as(Integer.class).one())
                .isEqualTo(2_501);
        assertThatThrownBy(() -> store.sql("update boat set seats = 0 where code in (:codes)")
                        .executeAll(List.of(Map.of("codes", List.of("A")), Map.of("codes", List.of("A", "B")))))
                .hasMessageContaining("row 2 have other lengths");
        assertThatThrownBy(() -> store.sql(update).executeAll(List.of("A")))
                .hasMessageContaining("values come from records and maps");
        assertThat(store.sql("select sum(seats) from boat").as(Integer.class).one())
                .isEqualTo(3);
    }

    @Test
    void aStreamClosesItself() {
        try (Stream<String> codes = store.sql("select code from boat order by code").as(String.class).stream()) {
            assertThat(codes.findFirst()).hasValue("A");
            assertThat(faults.open()).isEqualTo(1);
        }
        Stream<String> all = store.sql("select code from boat order by code").as(String.class).stream();
        assertThat(all).containsExactly("A", "B", "C");
        assertThat(faults.open()).as("closed behind the last row").isZero();
        assertThatThrownBy(() -> store.sql("select 1 from nowhere").stream()).isInstanceOf(BathraException.class);
        assertThatThrownBy(() -> store.sql("select code from boat").as(Line.class).stream())
                .hasMessageContaining("no column for Line.seats");
        assertThatThrownBy(() -> store.sql("delete from boat").stream()).hasMessageContaining("not read as a stream");
        assertThatThrownBy(() -> store.sql("select * from boat").as(Boat.class).stream())
                .hasMessageContaining("Boat has parts");
        assertThat(store.sql("select * from owner").as(Owner.class).stream().map(owner -> owner.name))
                .containsExactly("Aline");
        try (UnitOfWork work = store.begin()) {
            boat(work, 1).name = "pending";
            try (Stream<String> names = work.sql("select name from boat order by code").as(String.class).stream()) {
                assertThat(names).containsExactly("pending", "boat B", "boat C");
            }
        }
    }

    @Test
    void aUnitFlushesFirstAndFollowsWhatAStatementHasDone() {
        try (UnitOfWork work = store.begin()) {
            Boat first = boat(work, 1);
            Boat second = boat(work, 2);
            Boat third = boat(work, 3);
            assertThat(first.friends).hasSize(1);
            first.seats = 10;
            assertThat(work.sql("update boat set seats = seats + 1, revision = revision + 1 where seats is not null")
                            .execute())
                    .isEqualTo(1);
            assertThat(first.seats).isEqualTo(11);
            assertThat(work.standing(first)).isEqualTo(Standing.CLEAN);
            work.sql("delete from boat_crew where boat_id = " + key(2) + " and element = 'Piet'")
                    .execute();
            assertThat(second.crew).containsExactly("Klaas");
            work.sql("delete from boat_friends where boat_id = " + key(1)).execute();
            assertThat(first.friends).isEmpty();
            work.sql("delete from boat where id = :id").with("id", key(3)).execute();
            assertThat(work.standing(third)).isEqualTo(Standing.UNTRACKED);
            assertThat(work.find(Boat.class, key(3))).isEmpty();
            assertThat(work.sql("select * from boat where code < 'C' order by id")
                            .as(Boat.class)
                            .list())
                    .containsExactly(first, second);
            first.seats = 12;
            work.rollback();
            assertThat(first.seats).isEqualTo(12);
            assertThat(first.revision).isZero();
            assertThat(second.crew).containsExactly("Piet", "Klaas");
            assertThat(first.friends).hasSize(1);
            assertThat(work.standing(third)).isEqualTo(Standing.CLEAN);
            work.commit();
        }
        assertThat(store.sql("select seats from boat where id = " + key(1))
                        .as(Integer.class)
                        .one())
                .isEqualTo(12);
    }

    @Test
    void aUnitGoesOnAfterAStatementThatFails() {
        try (UnitOfWork work = store.begin()) {
            Boat first = boat(work, 1);
            first.seats = 1;
            assertThatThrownBy(() -> work.sql("update boat set code = 'B' where id = " + key(1))
                            .execute())
                    .isInstanceOf(UniqueViolation.class);
            assertThat(first.code).isEqualTo("A");
            first.name = "mended";
            work.commit();
        }
        assertThat(store.sql("select name from boat where seats = 1")
                        .as(String.class)
                        .one())
                .isEqualTo("mended");
        try (UnitOfWork work = store.begin(Terms.reading())) {
            assertThat(work.sql("select count(*) from boat").as(Integer.class).one())
                    .isEqualTo(3);
            assertThatThrownBy(() -> work.sql("delete from boat").execute())
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("read-only");
        }
    }

    private void rename(PlainTransaction tx, String code, String name) {
        tx.sql("update boat set name = :name where code = :code")
                .with("name", name)
                .with("code", code)
                .execute();
    }

    @Test
    void aTransactionIsAllOrNothing() {
        Throwable failure = catchThrowable(() -> store.transaction(tx -> {
            rename(tx, "A", "lost");
            throw new IllegalStateException("on the way");
        }));
        assertThat(failure).hasMessage("on the way");
        assertThatThrownBy(() -> store.transaction(tx -> {
                    rename(tx, "A", "lost as well");
                    catchThrowable(() -> tx.sql("update boat set code = 'B' where code = 'A'")
                            .execute());
                    return 0;
                }))
                .isInstanceOf(UnitStateException.class)
                .hasMessageContaining("nothing was committed");
        PlainTransaction ended = store.transaction(tx -> {
            rename(tx, "A", "kept");
            catchThrowable(() -> tx.call(inner -> {
                rename(inner, "B", "taken back");
                return inner.sql("update boat set code = 'B' where code = 'A'").execute();
            }));
            return tx.call(inner -> {
                rename(inner, "C", "kept too");
                return inner;
            });
        });
        assertThatThrownBy(() -> rename(ended, "A", "late"))
                .isInstanceOf(UnitStateException.class)
                .hasMessageContaining("has ended");
        assertThat(store.sql("select name from boat order by code")
                        .as(String.class)
                        .list())
                .containsExactly("kept", "boat B", "kept too");
    }

    @Test
    void whatCommitsByItselfIsRefusedWhereItWouldDoHarm() {
        boolean byItself = database == TestDatabase.H2 || database == TestDatabase.MARIADB;
        Throwable failure = catchThrowable(() -> store.transaction(tx -> {
            rename(tx, "A", "lost");
            tx.sql("create table extra (id integer)").execute();
            throw new IllegalStateException("taken back");
        }));
        if (byItself) {
            assertThat(failure).isInstanceOf(BathraException.class).hasMessageContaining("'create' commits what");
            assertThatThrownBy(
                            () -> store.run(work -> work.sql("drop table owner").execute()))
                    .hasMessageContaining("'drop' commits what");
        } else {
            assertThat(failure).hasMessage("taken back");
        }
        store.sql("create table extra (id integer)").execute();
        store.sql("insert into extra values (:id)").with("id", 7).execute();
        assertThat(store.sql("select id from extra").as(Integer.class).one()).isEqualTo(7);
        assertThat(store.sql("select name from boat where code = 'A'")
                        .as(String.class)
                        .one())
                .isEqualTo("boat A");
    }

    @Test
    void aTransactionIsTriedAgain() {
        int[] attempts = new int[1];
        long written = store.transaction(retrying(3), tx -> {
            rename(tx, "A", "attempt " + ++attempts[0]);
            if (attempts[0] < 3) {
                throw new io.bathra.error.SerializationFailure("made up", false, null);
            }
            return tx.sql("update boat set seats = 1").execute();
        });
        assertThat(written).isEqualTo(3);
        assertThat(store.sql("select name from boat where code = 'A'")
                        .as(String.class)
                        .one())
                .isEqualTo("attempt 3");
    }

    @Test
    void instantsAndTheLikeAreComparedAsTheyAreStored() {
        Instant now = Instant.parse("2026-05-01T10:00:00.123456789Z");
        String type = switch (database) {
            case H2, POSTGRESQL -> "timestamp(6) with time zone";
            case MARIADB -> "datetime(6)";
            case SQLITE -> "text";
        };
        store.sql("create table moments (at " + type + ")").execute();
        store.sql("insert into moments values (:at)").with("at", now).execute();
        Instant kept = store.sql("select at from moments where at = :at")
                .with("at", now)
                .as(Instant.class)
                .one();
        assertThat(kept).isEqualTo(Instant.parse("2026-05-01T10:00:00.123456Z"));
    }
}
