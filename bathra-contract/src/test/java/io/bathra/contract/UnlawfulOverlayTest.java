package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.any;
import static io.bathra.query.Ask.count;
import static io.bathra.query.Ask.no;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.answer.Pending;
import io.bathra.error.BathraException;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Condition;
import io.bathra.query.Ordering;
import io.bathra.query.Query;
import io.bathra.query.Sql;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Pending rows that no constraint would let in are found as they would be in tables without constraints. */
@OnEachDatabase
class UnlawfulOverlayTest {
    static final class Box {
        Long id;
        String name;
        final Links<Crate> crates = Links.empty();

        Long id() {
            return id;
        }

        String name() {
            return name;
        }

        Links<Crate> crates() {
            return crates;
        }
    }

    static final class Crate {
        Long id;
        String code;
        Integer kilos;
        final Link<Box> box = Link.empty();

        Long id() {
            return id;
        }

        String code() {
            return code;
        }

        Integer kilos() {
            return kilos;
        }

        Link<Box> box() {
            return box;
        }
    }

    record Seen(String code, Integer kilos, String box) {}

    record Tally(String box, long crates) {}

    private static final Model STRICT = Model.of(
            "crates",
            Entity.of(Box.class, Box::new)
                    .column(Box::name, required(), length(20))
                    .links(Box::crates, Crate::box),
            Entity.of(Crate.class, Crate::new)
                    .column(Crate::code, required(), length(20), unique())
                    .column(Crate::kilos, required())
                    .link(Crate::box, required()));

    private static final Model LOOSE = Model.of(
            "crates",
            Entity.of(Box.class, Box::new).column(Box::name, length(20)).links(Box::crates, Crate::box),
            Entity.of(Crate.class, Crate::new).column(Crate::code, length(20)));

    private static final List<Condition<Crate>> CONDITIONS = List.of(
            the(Crate::code).isNull(),
            the(Crate::code).isNotNull(),
            the(Crate::code).in("a", "b", "z"),
            number(Crate::kilos).above(3),
            number(Crate::kilos).orElse(0).atMost(4),
            the(Crate::box, Box::id).isNull(),
            text(Crate::box, Box::name).isNull(),
            text(Crate::box, Box::name).is("one"),
            text(Crate::box, Box::name).isNot("two"));

    private static final List<Condition<Box>> OF_BOXES = List.of(
            any(Box::crates),
            no(Box::crates),
            any(Box::crates, the(Crate::code).isNull()),
            no(Box::crates, number(Crate::kilos).above(3)));

    private final TestDatabase database;
    private final Store strict;
    private final Store loose;

    UnlawfulOverlayTest(TestDatabase database) {
        this.database = database;
        strict = Trips.open(STRICT, database.empty());
        loose = Trips.open(LOOSE, database.empty());
    }

    private void createWithoutConstraints() {
        String text = database == TestDatabase.POSTGRESQL ? "varchar(20) collate \"C\"" : "varchar(20)";
        String options =
                database == TestDatabase.MARIADB ? " default character set utf8mb4 collate utf8mb4_nopad_bin" : "";
        for (String table : List.of(
                "create table box (id bigint, name " + text + ")" + options,
                "create table crate (id bigint, code " + text + ", kilos integer, box_id bigint)" + options)) {
            loose.sql(Sql.of(table)).execute();
        }
    }

    private void storeLoosely(List<Box> boxes, List<Crate> crates, Box removed) {
        long next = 1_000;
        for (Box box : boxes) {
            if (box != removed) {
                loose.sql(Sql.of("insert into box (id, name) values (:id, :name)")
                                .with("id", box.id)
                                .with("name", box.name))
                        .execute();
            }
        }
        for (Crate crate : crates) {
            loose.sql(Sql.of("insert into crate (id, code, kilos, box_id) values (:id, :code, :kilos, :box)")
                            .with("id", crate.id == null ? next++ : crate.id)
                            .with("code", crate.code)
                            .with("kilos", crate.kilos)
                            .with("box", crate.box.find().map(Box::id).orElse(null)))
                    .execute();
        }
    }

    private static List<Seen> seen(
            UnitOfWork work, List<Condition<Crate>> conditions, List<Ordering<Crate>> orderings) {
        Query<Crate> query = work.from(Crate.class);
        for (Condition<Crate> condition : conditions) {
            query = query.where(condition);
        }
        for (Ordering<Crate> ordering : orderings) {
            query = query.orderBy(ordering);
        }
        return query.as(Seen::new, the(Crate::code), the(Crate::kilos), text(Crate::box, Box::name))
                .list();
    }

    private static List<Tally> tallies(UnitOfWork work) {
        return work.from(Crate.class)
                .groupBy(text(Crate::box, Box::name))
                .orderBy(text(Crate::box, Box::name).ascending())
                .as(Tally::new, text(Crate::box, Box::name), count())
                .list();
    }

    @Test
    void constraintsPlayNoPart() {
        strict.schema().createMissing();
        createWithoutConstraints();
        List<Box> boxes = new ArrayList<>();
        List<Crate> crates = new ArrayList<>();
        strict.run(work -> {
            for (String name : List.of("one", "two", "three")) {
                Box box = new Box();
                box.name = name;
                for (int i = 0; i < 3; i++) {
                    Crate crate = new Crate();
                    crate.code = name + i;
                    crate.kilos = i;
                    box.crates.add(crate);
                }
                work.add(box);
            }
        });
        Random random = new Random(7);
        try (UnitOfWork work = strict.begin()) {
            work.pending(Pending.OVERLAY);
            boxes.addAll(work.from(Box.class).list());
            crates.addAll(work.from(Crate.class).list());
            crates.forEach(crate -> crate.box.find());
            Box removed = boxes.get(2); // crates lead to it
            work.remove(removed);
            crates.get(0).code = null;
            crates.get(1).code = "two0"; // as another one is called
            crates.get(4).kilos = null;
            crates.get(5).box.clear();
            for (int i = 0; i < 8; i++) {
                Crate crate = new Crate();
                crate.code = i % 3 == 0 ? null : "a";
                crate.kilos = i % 4 == 0 ? null : (Integer) i;
                if (i % 2 == 0) {
                    crate.box.set(boxes.get(i % 3));
                }
                work.add(crate);
                crates.add(crate);
            }
            storeLoosely(boxes, crates, removed);
            try (UnitOfWork free = loose.begin()) {
                for (int i = 0; i < 60; i++) {
                    List<Condition<Crate>> conditions = new ArrayList<>();
                    for (int c = random.nextInt(3); c > 0; c--) {
                        conditions.add(CONDITIONS.get(random.nextInt(CONDITIONS.size())));
                    }
                    List<Ordering<Crate>> orderings = List.of(
                            random.nextBoolean()
                                    ? text(Crate::box, Box::name).ascending()
                                    : text(Crate::box, Box::name).descending(),
                            the(Crate::code).descending(),
                            number(Crate::kilos).ascending().nullsLast());
                    assertThat(seen(work, conditions, orderings))
                            .as("%s", conditions)
                            .isEqualTo(seen(free, conditions, orderings));
                }
                for (Condition<Box> condition : OF_BOXES) {
                    assertThat(work.from(Box.class)
                                    .where(condition)
                                    .as(the(Box::name))
                                    .list())
                            .as("%s", condition)
                            .isEqualTo(free.from(Box.class)
                                    .where(condition)
                                    .as(the(Box::name))
                                    .list());
                }
                assertThat(tallies(work)).isEqualTo(tallies(free));
            }
            assertThat(work.trace().statements()).noneMatch(line -> line.sql().startsWith("insert"));
            assertThatThrownBy(work::flush).isInstanceOf(BathraException.class);
        }
    }
}
