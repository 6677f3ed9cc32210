package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.any;
import static io.bathra.query.Ask.element;
import static io.bathra.query.Ask.link;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import io.bathra.link.Link;
import io.bathra.model.Declare;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Condition;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** Changes by query hold the rows that they find, and those of others stay free. */
@OnEachDatabase
class ChangeLocksTest {
    static final class Port {
        Long id;
        String name;

        String name() {
            return name;
        }
    }

    static final class Shed {
        Long id;
        final Link<Port> port = Link.empty();

        Long id() {
            return id;
        }

        Link<Port> port() {
            return port;
        }
    }

    static final class Sack {
        Long id;
        int moves;
        final Link<Shed> shed = Link.empty();
        List<String> marks = new ArrayList<>();

        Long id() {
            return id;
        }

        int moves() {
            return moves;
        }

        Link<Shed> shed() {
            return shed;
        }

        List<String> marks() {
            return marks;
        }
    }

    private static final Terms HURRIED = Terms.retrying(1).lockTimeout(Duration.ofSeconds(1));

    private final TestDatabase database;
    private final Store store;
    private final Keys keys;

    /** Two thousand sacks in twenty sheds of ten ports. */
    ChangeLocksTest(TestDatabase database) {
        this.database = database;
        store = Trips.open(
                Model.of(
                        "sacks",
                        Entity.of(Port.class, Port::new).column(Port::name, length(10), unique()),
                        Entity.of(Shed.class, Shed::new),
                        Entity.of(Sack.class, Sack::new)
                                .link(
                                        Sack::shed,
                                        Declare.onDelete(DeleteRule.CASCADE),
                                        Declare.enforcedBy(Enforcer.UNIT))
                                .parts(Sack::marks)),
                database.empty());
        store.schema().createMissing();
        store.run(work -> {
            for (int p = 0; p < 10; p++) {
                Port port = new Port();
                port.name = "P" + p;
                work.add(port);
                for (int s = 0; s < 2; s++) {
                    Shed shed = new Shed();
                    shed.port.set(port);
                    work.add(shed);
                    for (int i = 0; i < 100; i++) {
                        Sack sack = new Sack();
                        sack.shed.set(shed);
                        sack.marks.add("M" + p);
                        work.add(sack);
                    }
                }
            }
        });
        keys = Keys.in(store, "port", "shed", "sack");
        if (database == TestDatabase.MARIADB || database == TestDatabase.POSTGRESQL) {
            String parts = "sack_marks";
            store.script("create index by_mark on " + parts + " (element)");
            store.script(database == TestDatabase.MARIADB ? "analyze table sack, shed, port, " + parts : "analyze");
        }
    }

    @AfterEach
    void close() {
        store.close();
    }

    private static int moved(UnitOfWork work, Condition<Sack> condition) {
        return (int) work.from(Sack.class)
                .where(condition)
                .update(number(Sack::moves).to(number(Sack::moves).plus(1)));
    }

    @Test
    void whoChangesOtherRowsIsNotHeldUp() {
        if (database == TestDatabase.SQLITE) {
            return; // it has one writer at a time
        }
        List<Function<Integer, Condition<Sack>>> ways = List.of(
                n -> the(Sack::id).is(keys.of("sack", n * 200 + 1)),
                n -> the(Sack::shed, Shed::id).is(keys.of("shed", n * 2 + 1)),
                n -> the(Sack::shed, Shed::port, Port::name).is("P" + n),
                n -> link(Sack::shed, Shed::port).is(port(keys.of("port", n + 1))),
                n -> any(Sack::marks, element(String.class).is("M" + n)));
        for (Function<Integer, Condition<Sack>> way : ways) {
            try (UnitOfWork one = store.begin();
                    UnitOfWork other = store.begin(HURRIED)) {
                assertThat(moved(one, way.apply(2))).isPositive();
                assertThat(moved(other, way.apply(5))).isPositive();
                other.commit();
                one.commit();
            }
        }
        try (UnitOfWork one = store.begin();
                UnitOfWork other = store.begin(HURRIED)) {
            one.from(Shed.class).where(the(Shed::port, Port::name).is("P2")).delete();
            other.from(Shed.class).where(the(Shed::port, Port::name).is("P5")).delete();
            assertThat(moved(other, the(Sack::shed, Shed::port, Port::name).is("P7")))
                    .isEqualTo(200);
            other.commit();
            one.commit();
        }
        assertThat(store.<Long, RuntimeException>call(
                        work -> work.from(Sack.class).count()))
                .isEqualTo(1_600);
    }

    /** A small table is read from one end to the other where a statement leaves that to the database. */
    @Test
    void whoRemovesRowsOfASmallTableDoesNotWaitForThoseWhoAddSome() {
        if (database == TestDatabase.SQLITE) {
            return; // it has one writer at a time
        }
        store.run(work -> IntStream.range(0, 4).forEach(i -> work.add(named("old " + i))));
        try (UnitOfWork one = store.begin();
                UnitOfWork other = store.begin(HURRIED)) {
            one.add(named("new"));
            one.flush();
            other.from(Port.class)
                    .where(text(Port::name).startsWith("old"))
                    .list()
                    .forEach(other::remove);
            other.commit();
            one.commit();
        }
        assertThat(store.<Long, RuntimeException>call(
                        work -> work.from(Port.class).count()))
                .isEqualTo(11);
    }

    private static Port named(String name) {
        Port port = new Port();
        port.name = name;
        return port;
    }

    private static Port port(long id) {
        Port port = new Port();
        port.id = id;
        return port;
    }
}
