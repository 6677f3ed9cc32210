package io.bathra.contract;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.enforcedBy;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.removeOrphans;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.answer.Pending;
import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import io.bathra.error.CheckViolation;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Query;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Consumer;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What queries answer while rows are about to go along with others, and over keys that are made of links. */
@OnEachDatabase
class RightAnswersTest {
    static final class District {
        Long id;

        Long id() {
            return id;
        }
    }

    static final class Customer {
        final Link<District> district = Link.empty();
        int number;
        final Links<Order> orders = Links.empty();
        final Link<Permit> permit = Link.empty();

        Link<District> district() {
            return district;
        }

        int number() {
            return number;
        }

        Links<Order> orders() {
            return orders;
        }

        Link<Permit> permit() {
            return permit;
        }
    }

    static final class Permit {
        Long id;
        final Link<Customer> customer = Link.empty();

        Link<Customer> customer() {
            return customer;
        }
    }

    static final class Order {
        Long id;
        String name;
        final Link<Customer> customer = Link.empty();

        Order() {}

        Order(String name) {
            this.name = name;
        }

        Long id() {
            return id;
        }

        String name() {
            return name;
        }

        Link<Customer> customer() {
            return customer;
        }
    }

    static final class Line {
        Long id;
        final Link<Order> order = Link.empty();

        Line() {}

        Line(Order order) {
            this.order.set(order);
        }

        Long id() {
            return id;
        }

        Link<Order> order() {
            return order;
        }
    }

    static final class Seal {
        Long id;
        final Link<Line> line = Link.empty();

        Long id() {
            return id;
        }

        Link<Line> line() {
            return line;
        }
    }

    private final TestDatabase database;
    private final Store store;
    private Long order;

    RightAnswersTest(TestDatabase database) {
        this.database = database;
        store = Trips.open(
                Model.of(
                        "orders",
                        Entity.of(District.class, District::new),
                        Entity.of(Customer.class, Customer::new)
                                .key(Customer::district, Customer::number)
                                .links(Customer::orders, Order::customer, removeOrphans())
                                .link(Customer::permit, Permit::customer),
                        Entity.of(Permit.class, Permit::new).link(Permit::customer, unique()),
                        Entity.of(Order.class, Order::new).link(Order::customer),
                        Entity.of(Line.class, Line::new)
                                .link(Line::order, onDelete(DeleteRule.CASCADE), enforcedBy(Enforcer.UNIT)),
                        Entity.of(Seal.class, Seal::new).link(Seal::line, onDelete(DeleteRule.SET_NULL))),
                database.empty());
    }

    @BeforeEach
    void anOrderWithALineAndItsSeal() {
        store.schema().createMissing();
        order = store.call(work -> {
            District district = new District();
            Customer customer = new Customer();
            customer.district.set(district);
            customer.number = 7;
            Order order = new Order("first");
            customer.orders.add(order);
            Seal seal = new Seal();
            Line line = new Line(order);
            seal.line.set(line);
            Permit permit = new Permit();
            permit.customer.set(customer);
            List.of(district, customer, line, seal, permit).forEach(work::add);
            work.flush();
            return order.id;
        });
    }

    @AfterEach
    void close() {
        store.close();
    }

    @Test
    void rowsThatGoAlongAreNotThereAnyMore() {
        List<Consumer<UnitOfWork>> removals = List.of(
                work -> work.remove(work.from(Order.class).one()),
                work -> work.row(Order.class, order).remove(),
                work -> work.from(Customer.class).one().orders.clear()); // an orphan is removed
        for (Pending treatment : List.of(Pending.FLUSH, Pending.OVERLAY)) {
            for (Consumer<UnitOfWork> removal : removals) {
                try (UnitOfWork work = store.begin()) {
                    removal.accept(work);
                    doomed(
                            work.from(Line.class).pending(treatment),
                            work.from(Seal.class).pending(treatment));
                    if (treatment == Pending.FLUSH) {
                        assertThat(work.from(Seal.class).one().line.key()).isNull();
                    }
                    work.discard();
                }
            }
        }
        store.run(work -> {
            work.remove(work.from(Order.class).one());
            assertThat(work.from(Line.class).where(the(Line::id).isNotNull()).delete())
                    .isZero();
        });
    }

    private static void doomed(Query<Line> lines, Query<Seal> seals) {
        assertThat(lines.count()).isZero();
        assertThat(lines.list()).isEmpty();
        assertThat(seals.where(the(Seal::line, Line::id).isNull()).count()).isOne();
    }

    @Test
    void aKeyIsToldWhenTheUnitIsClosed() {
        Customer customer = store.call(work -> {
            Customer read = work.from(Customer.class).one();
            assertThat(read.permit.get().customer.get()).isSameAs(read);
            return read;
        });
        assertThat(customer.permit.key()).isEqualTo(customer.permit.get().id);
        Customer untracked = store.call(work -> work.from(Customer.class)
                .alongWith(Customer::permit)
                .untracked()
                .one());
        assertThat(untracked.permit.key()).isEqualTo(untracked.permit.get().id);
        assertThat(untracked.district.key()).isEqualTo(customer.district.key());
    }

    /** The columns of the foreign key hold it already. */
    @Test
    void keysOfLinksAreAskedForWithoutAJoin() {
        store.run(work -> {
            Long district = work.from(District.class).one().id;
            Query<Order> query = work.from(Order.class)
                    .where(the(Order::customer, Customer::district, District::id)
                            .is(district));
            assertThat(query.sql().sql()).doesNotContain("join");
            assertThat(query.count()).isOne();
            Query<Line> deeper = work.from(Line.class)
                    .where(the(Line::order, Order::customer, Customer::number).is(7));
            assertThat(deeper.sql().sql()).containsOnlyOnce("join");
            assertThat(deeper.count()).isOne();
            assertThat(work.from(Order.class)
                            .as(the(Order::customer, Customer::district, District::id))
                            .list())
                    .containsExactly(district);
        });
    }

    /** An object tells its key, links in it too. */
    @Test
    void bulkRowsLinkToObjectsWhoseKeysAreMadeOfLinks() {
        Customer customer = store.call(work -> work.from(Customer.class).one());
        Order second = new Order("second");
        second.customer.set(customer);
        store.bulk(Order.class).insert(List.of(second));
        store.bulk(Order.class).maps().insert(List.of(Map.of("name", "third", "customer", customer)));
        store.run(work -> assertThat(work.from(Order.class).list())
                .hasSize(3)
                .allMatch(order -> Objects.equals(order.customer.key(), List.of(customer.district.key(), 7))));
    }

    static final class Buoy {
        String name;
        final Link<Buoy> next = Link.empty();

        Buoy() {}

        Buoy(String name) {
            this.name = name;
        }

        String name() {
            return name;
        }

        Link<Buoy> next() {
            return next;
        }
    }

    /** Links that are no part of a key need not be known for it. */
    @Test
    void newObjectsInARingOrALongChainAreLaidOverTheirTable() {
        Model buoys = Model.of(
                "buoys",
                Entity.of(Buoy.class, Buoy::new).key(Buoy::name, assigned()).link(Buoy::next));
        try (Store other = Trips.open(buoys, database.empty())) {
            other.schema().createMissing();
            try (UnitOfWork work = other.begin()) {
                Buoy first = new Buoy("first");
                Buoy second = new Buoy("second");
                first.next.set(second);
                second.next.set(first);
                work.add(first);
                assertThat(work.from(Buoy.class).pending(Pending.OVERLAY).count())
                        .isEqualTo(2);
                work.discard();
                Buoy last = new Buoy("0");
                Buoy next = last;
                for (int i = 1; i < 3_000; i++) {
                    Buoy one = new Buoy("" + i);
                    one.next.set(next);
                    next = one;
                }
                work.add(next);
                assertThat(work.from(Buoy.class).pending(Pending.OVERLAY).count())
                        .isEqualTo(3_000);
                work.discard();
            }
        }
    }

    static final class Mole {
        Long id;
        int metres;
        String code;

        int metres() {
            return metres;
        }

        String code() {
            return code;
        }
    }

    static final class Pier {
        Long id;
        int metres;

        int metres() {
            return metres;
        }
    }

    /** PostgreSQL and MariaDB let two tables have checks of one name. */
    @Test
    void aConstraintIsToldByItsTableAndItsName() {
        Model walls = Model.of(
                "walls",
                Entity.of(Mole.class, Mole::new)
                        .check("is_long", the(Mole::metres).above(10)),
                Entity.of(Pier.class, Pier::new)
                        .check("is_long", the(Pier::metres).above(10)));
        if (database == TestDatabase.H2) {
            return; // a name stands for one constraint of a schema
        }
        try (Store other = Trips.open(walls, database.empty())) {
            other.schema().createMissing();
            assertThatThrownBy(() -> other.run(work -> work.add(new Mole())))
                    .isInstanceOf(CheckViolation.class)
                    .hasMessageContaining("Mole.metres");
            assertThatThrownBy(() -> other.run(work -> work.add(new Pier())))
                    .isInstanceOf(CheckViolation.class)
                    .hasMessageContaining("Pier.metres");
        }
    }
}
