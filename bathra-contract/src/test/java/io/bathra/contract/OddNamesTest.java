package io.bathra.contract;

import static io.bathra.bulk.On.on;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.name;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.link;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.answer.Locking;
import io.bathra.bulk.BulkResult;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Names that look like pieces of statements, or that are as long as they may be, and keys of several columns with links
 * in them, in every form of every dialect: no statement is cut or patched by what stands in its text.
 */
@OnEachDatabase
class OddNamesTest {
    static final class Crate {
        private Long id;
        private String code;
        private String label;
        private final Link<Crate> inside = Link.empty();

        Crate() {}

        Crate(int number) {
            code = "C" + number;
            label = "crate " + number;
        }

        Long id() {
            return id;
        }

        String code() {
            return code;
        }

        String label() {
            return label;
        }

        Link<Crate> inside() {
            return inside;
        }
    }

    /** Its key is a link and a number. */
    static final class Lid {
        private final Link<Crate> crate = Link.empty();
        private int number;
        private String label;
        private int revision;
        private final Link<Lid> above = Link.empty();

        static Lid of(Crate crate, int number) {
            Lid lid = new Lid();
            lid.crate.set(crate);
            lid.number = number;
            return lid;
        }

        Link<Crate> crate() {
            return crate;
        }

        int number() {
            return number;
        }

        String label() {
            return label;
        }

        int revision() {
            return revision;
        }

        Link<Lid> above() {
            return above;
        }
    }

    /** Its key is a link to a key with a link in it. */
    static final class Seal {
        private final Link<Lid> lid = Link.empty();
        private String label;

        static Seal on(Lid lid) {
            Seal seal = new Seal();
            seal.lid.set(lid);
            return seal;
        }

        Link<Lid> lid() {
            return lid;
        }

        String label() {
            return label;
        }
    }

    /** How things are called: four names that differ in their ends. */
    record Called(String how) {
        String the(String what) {
            return how.length() > 40 ? how.substring(0, how.length() - what.length()) + what : how + what;
        }

        /** A name that leaves room for that of a link in front. */
        String theKey(String what) {
            String name = the(what);
            return how.length() > 40 ? name.substring("above_".length()) : name;
        }
    }

    static Stream<Called> names() {
        return Stream.of(
                        "a (b for update",
                        "insert into x values (",
                        " from t where ",
                        "quo\"te's",
                        "tick`s",
                        "back\\slash",
                        "per%cent_",
                        "a; drop table b -- ",
                        "/* no */ :p ? $1",
                        "select",
                        "CamelCase",
                        "größe",
                        "n".repeat(63),
                        "x".repeat(23) + "ü".repeat(19) + "xx")
                .map(Called::new);
    }

    private final TestDatabase database;

    OddNamesTest(TestDatabase database) {
        this.database = database;
    }

    private Store store(Called called) {
        Store store = Trips.open(
                Model.of(
                        "odd",
                        Entity.of(Crate.class, Crate::new)
                                .table(called.the("1"))
                                .column(Crate::code, required(), length(10), unique(), name(called.the("c")))
                                .column(Crate::label, length(40), name(called.the("l")))
                                .link(Crate::inside, name(called.the("i"))),
                        Entity.of(Lid.class, Lid::new)
                                .table(called.the("2"))
                                .key(Lid::crate, Lid::number)
                                .link(Lid::crate, name(called.theKey("c")))
                                .column(Lid::number, name(called.theKey("n")))
                                .column(Lid::label, length(40), name(called.the("l")))
                                .version(Lid::revision)
                                .link(Lid::above, name("above")),
                        Entity.of(Seal.class, Seal::new)
                                .table(called.the("3"))
                                .key(Seal::lid)
                                .link(Seal::lid, name("on"))
                                .column(Seal::label, length(40), name(called.the("l")))),
                database.empty());
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
        return store;
    }

    private static List<Crate> crates(int from, int to) {
        return IntStream.range(from, to).mapToObj(Crate::new).toList();
    }

    @ParameterizedTest
    @MethodSource("names")
    void rowsAreWrittenAndReadInEveryForm(Called called) {
        Store store = store(called);
        for (int rows : List.of(1, 5, 200)) { // one of each form that a dialect has for a number of rows
            store.run(work -> {
                List<Crate> crates = crates(0, rows);
                crates.forEach(work::add);
                List<Lid> lids = crates.stream().map(crate -> Lid.of(crate, 7)).toList();
                lids.forEach(lid -> work.add(Seal.on(lid)));
                work.flush();
                crates.forEach(crate -> crate.inside.set(crates.get(0)));
                lids.forEach(lid -> lid.above.set(lids.get(0)));
                lids.forEach(lid -> lid.label = "closed");
                work.flush();
                assertThat(work.from(Crate.class)
                                .where(text(Crate::inside, Crate::label).is("crate 0"))
                                .forUpdate(Locking.WAIT)
                                .list())
                        .hasSize(rows);
                assertThat(work.from(Lid.class)
                                .where(
                                        link(Lid::above).is(lids.get(0)),
                                        link(Lid::crate).in(crates))
                                .count())
                        .isEqualTo(rows);
                assertThat(work.from(Seal.class)
                                .where(
                                        link(Seal::lid).in(lids),
                                        link(Seal::lid, Lid::crate).is(crates.get(0)),
                                        the(Seal::lid, Lid::label).is("closed"))
                                .list())
                        .hasSize(1);
                assertThat(work.from(Lid.class).update(the(Lid::label).to("x"))).isEqualTo(rows);
            });
            store.run(work -> {
                assertThat(work.findAll(
                                Lid.class,
                                work.from(Lid.class).keys().stream().limit(3).toList()))
                        .hasSizeBetween(1, 3);
                work.from(Seal.class).list().forEach(seal -> {
                    assertThat(seal.lid.get().crate.get().code).startsWith("C");
                    seal.lid.get().above.clear();
                    work.remove(seal);
                });
                work.flush();
                work.from(Lid.class).list().forEach(work::remove);
                work.flush();
                work.from(Crate.class).list().forEach(crate -> crate.inside.clear());
                work.flush();
                assertThat(work.from(Crate.class).delete()).isEqualTo(rows);
            });
        }
        store.close();
    }

    @ParameterizedTest
    @MethodSource("names")
    void rowsInBulkAreWrittenInEveryForm(Called called) {
        Store store = store(called);
        BulkResult inserted = store.bulk(Crate.class).insert(crates(0, 200));
        assertThat(inserted.inserted()).isEqualTo(200);
        assertThat(store.bulk(Crate.class).insertMissing(crates(100, 300)).inserted())
                .isEqualTo(100);
        List<Crate> changed = crates(250, 350);
        changed.get(0).label = "another";
        BulkResult upserted = store.bulk(Crate.class).upsert(changed, on(Crate::code));
        assertThat(upserted.inserted()).isEqualTo(50);
        assertThat(upserted.updated()).isEqualTo(1);
        String label = store.call(work -> work.from(Crate.class)
                .where(the(Crate::code).is("C250"))
                .as(text(Crate::label))
                .one());
        assertThat(label).isEqualTo("another");
        List<Crate> crates = store.call(work -> work.from(Crate.class).list());
        List<Map<String, Object>> lids = crates.stream()
                .map(crate -> Map.<String, Object>of("crate", crate, "number", 1, "label", "new"))
                .toList();
        assertThat(store.bulk(Lid.class).maps().insert(lids).inserted()).isEqualTo(350);
        assertThat(store.bulk(Lid.class)
                        .maps()
                        .upsert(lids, on(Lid::crate, Lid::number))
                        .unchanged())
                .isEqualTo(350);
        List<Seal> seals = store.call(
                work -> work.from(Lid.class).list().stream().map(Seal::on).toList());
        assertThat(store.bulk(Seal.class).insertMissing(seals).inserted()).isEqualTo(350);
        assertThat(store.bulk(Seal.class).insertMissing(seals).inserted()).isZero();
        store.close();
    }
}
