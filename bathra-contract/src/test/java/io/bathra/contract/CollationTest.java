package io.bathra.contract;

import static io.bathra.bulk.On.on;
import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Savepoint;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.Wanted;
import io.bathra.answer.Pending;
import io.bathra.bulk.BulkResult;
import io.bathra.bulk.Pair;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Difference;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Condition;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Tables of others on MariaDB, to which capitals and small letters are the same. */
class CollationTest {
    static final class Port {
        String code;
        String name;
        final List<String> remarks = new ArrayList<>();
        final Links<Berth> berths = Links.empty();
        final Links<Line> lines = Links.empty();

        Port() {}

        Port(String code, String name) {
            this.code = code;
            this.name = name;
        }

        String code() {
            return code;
        }

        String name() {
            return name;
        }

        List<String> remarks() {
            return remarks;
        }

        Links<Berth> berths() {
            return berths;
        }

        Links<Line> lines() {
            return lines;
        }
    }

    static final class Berth {
        Long id;
        String label;
        final Link<Port> port = Link.empty();

        String label() {
            return label;
        }

        Link<Port> port() {
            return port;
        }

        static Berth of(String label) {
            Berth berth = new Berth();
            berth.label = label;
            return berth;
        }
    }

    static final class Line {
        String name;

        String name() {
            return name;
        }
    }

    private final DataSource source = TestDatabase.MARIADB.empty();
    private final Store store = Trips.open(
            Model.of(
                    "ports",
                    Entity.of(Port.class, Port::new)
                            .key(Port::code, assigned())
                            .parts(Port::remarks)
                            .links(Port::berths, Berth::port)
                            .pivot(Port::lines),
                    Entity.of(Berth.class, Berth::new)
                            .column(Berth::label, required(), unique(), length(20))
                            .link(Berth::port),
                    Entity.of(Line.class, Line::new).key(Line::name, assigned())),
            source);

    @BeforeEach
    void tablesOfOthers() {
        store.schema()
                .statements()
                .forEach(sql -> TestDatabase.execute(source, sql.replace("utf8mb4_nopad_bin", "utf8mb4_general_ci")));
        for (String sql : List.of(
                "insert into port (code, name) values ('abc', 'Abcester'), ('DEF', 'Defton'), ('ghi', 'Ghi')",
                "insert into line (name) values ('north')",
                "insert into berth (label, port_id) values ('Quay 1', 'ABC'), ('Quay 2', 'def'), ('Pier', 'Abc')",
                "insert into port_lines (port_id, line_id) values ('ABC', 'NORTH')",
                "insert into port_remarks (port_id, position, element) values ('aBC', 1, 'deep'), ('DEF', 1, 'narrow')")) {
            TestDatabase.execute(source, sql);
        }
    }

    @AfterEach
    void close() {
        store.close();
    }

    @Test
    void verifyNamesTheCollation() {
        assertThat(store.schema().verify())
                .extracting(Difference::toString)
                .anyMatch(line -> line.startsWith("berth.label")
                        && line.contains("utf8mb4_general_ci")
                        && line.contains("utf8mb4_nopad_bin"));
    }

    @Test
    void aForeignKeyLeadsWhereTheDatabaseSaysAndNothingIsWrittenForIt() {
        store.run(work -> {
            List<Berth> berths = work.from(Berth.class)
                    .orderBy(the(Berth::label).ascending())
                    .list();
            assertThat(berths)
                    .extracting(berth -> berth.port.get().name)
                    .containsExactly("Abcester", "Abcester", "Defton");
            assertThat(work.changes()).isEmpty();
        });
        store.run(work -> {
            Port port = work.require(Port.class, "ABC");
            assertThat(port.code).isEqualTo("abc");
            assertThat(port.berths.stream().map(Berth::label)).containsExactlyInAnyOrder("Quay 1", "Pier");
            assertThat(port.lines.stream().map(Line::name)).containsExactly("north");
            assertThat(work.findAll(Port.class, List.of("Def", "GHI", "none")))
                    .extracting(Port::code)
                    .containsExactly("DEF", "ghi");
            assertThat(work.changes()).isEmpty();
        });
    }

    @Test
    void whatHangsOnAnEntityComesWhicheverLettersItIsAskedFor() {
        store.run(work -> {
            Port port = work.from(Port.class)
                    .where(the(Port::code).is("Abc"))
                    .alongWith(Port::berths, Port::lines)
                    .one();
            assertThat(port.code).isEqualTo("abc");
            assertThat(port.remarks).containsExactly("deep");
            assertThat(port.berths).extracting(Berth::label).containsExactlyInAnyOrder("Quay 1", "Pier");
            assertThat(port.lines).extracting(Line::name).containsExactly("north");
            assertThat(work.changes()).isEmpty();
        });
        store.run(work -> assertThat(work.require(Port.class, "ABC").remarks).containsExactly("deep"));
        store.run(work -> {
            work.read(Wanted.of(Port.class, "ABC", "def"), Wanted.of(Line.class, "North"));
            assertThat(work.from(Port.class).list())
                    .extracting(port -> port.code + port.remarks)
                    .containsExactlyInAnyOrder("abc[deep]", "DEF[narrow]", "ghi[]");
        });
    }

    @Test
    void whatIsThereIsFoundInOtherLetters() {
        List<Port> ports = List.of(
                new Port("Abc", "one"), new Port("new", "two"), new Port("NEW", "three"), new Port("ghi", "four"));
        BulkResult missing = store.bulk(Port.class).insertMissing(ports);
        assertThat(List.of(missing.inserted(), missing.skipped())).containsExactly(1L, 3L);
        BulkResult upserted = store.bulk(Port.class).upsert(ports, on(Port::code));
        assertThat(upserted.inserted()).isZero();
        store.run(work -> assertThat(work.from(Port.class).list())
                .extracting(port -> port.code.toLowerCase() + " " + port.name)
                .containsExactlyInAnyOrder("abc one", "def Defton", "ghi four", "new three"));
        store.run(work -> {
            List<Berth> found = work.findOrAddAll(
                    Berth.class, on(Berth::label), List.of(Berth.of("QUAY 1"), Berth.of("Shed"), Berth.of("SHED")));
            assertThat(found).extracting(Berth::label).containsExactly("Quay 1", "Shed", "Shed");
        });
        List<Map<String, ?>> rows = new ArrayList<>();
        IntStream.range(0, 40)
                .forEach(i -> rows.add(Map.of("label", "quay " + i, "port.code", i % 2 == 0 ? "ABC" : "DeF")));
        BulkResult berths = store.bulk(Berth.class).maps().insertMissing(rows, on(Berth::label));
        assertThat(List.of(berths.inserted(), berths.skipped())).containsExactly(38L, 2L);
        BulkResult pairs = store.bulk(Port.class)
                .pairs(Port::lines)
                .add(List.of(Pair.of("abc", "North"), Pair.of("ghi", "north")));
        assertThat(List.of(pairs.inserted(), pairs.skipped())).containsExactly(1L, 1L);
    }

    /** Whether texts are compared as the column does, which the database decides. */
    @Test
    void pendingTextsAreComparedAsTheColumnComparesItsOwn() {
        for (boolean own : new boolean[] {false, true}) {
            if (own) {
                store.schema().recreate("ports");
            }
            try (UnitOfWork work = store.begin()) {
                work.add(new Port("xyz", "Straße "));
                for (String text : List.of("xyz", "XYZ", "Xyz", "xyz ", "xÿz")) {
                    List<Condition<Port>> conditions = List.of(
                            the(Port::code).is(text),
                            the(Port::code).in(text, "nobody"),
                            the(Port::code).atLeast(text),
                            text(Port::code).startsWith(text.substring(0, 2)),
                            text(Port::name).lower().is("strasse"),
                            text(Port::name).contains("ASSE"));
                    for (Condition<Port> condition : conditions) {
                        long overlaid = work.from(Port.class)
                                .where(condition)
                                .pending(Pending.OVERLAY)
                                .count();
                        Savepoint before = work.savepoint();
                        long flushed = work.from(Port.class).where(condition).count();
                        before.rollback();
                        assertThat(overlaid)
                                .as("%s with %s, own %s", condition, text, own)
                                .isEqualTo(flushed);
                    }
                }
            }
        }
    }
}
