package io.bathra.contract;

import static io.bathra.bulk.On.on;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.name;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
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
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Names that look like pieces of statements: no statement is cut or patched by what stands in its text. */
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

    static final Entity<Crate> CRATE = Entity.of(Crate.class, Crate::new)
            .table("a (b for update")
            .column(Crate::code, required(), length(10), unique(), name("insert into"))
            .column(Crate::label, length(40), name(" from x"))
            .link(Crate::inside, name("c) values ("));

    private final Store store;

    OddNamesTest(TestDatabase database) {
        store = Store.open(Model.of("odd", CRATE), database.empty());
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
    }

    private static List<Crate> crates(int from, int to) {
        return IntStream.range(from, to).mapToObj(Crate::new).toList();
    }

    @Test
    void rowsAreWrittenAndReadInEveryForm() {
        for (int rows : List.of(1, 5, 200)) { // one of each form that a dialect has for a number of rows
            store.run(work -> {
                List<Crate> crates = crates(0, rows);
                crates.forEach(work::add);
                work.flush();
                crates.forEach(crate -> crate.inside.set(crates.get(0)));
                work.flush();
                assertThat(work.from(Crate.class)
                                .where(text(Crate::inside, Crate::label).is("crate 0"))
                                .forUpdate(Locking.WAIT)
                                .list())
                        .hasSize(rows);
                crates.forEach(crate -> crate.inside.clear());
                work.flush();
                crates.forEach(work::remove);
            });
            long left = store.call(work -> work.from(Crate.class).count());
            assertThat(left).isZero();
        }
    }

    @Test
    void rowsInBulkAreWrittenInEveryForm() {
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
    }
}
