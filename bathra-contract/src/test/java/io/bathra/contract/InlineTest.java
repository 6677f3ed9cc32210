package io.bathra.contract;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.name;
import static io.bathra.model.Declare.prefix;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.secret;
import static io.bathra.model.Declare.within;
import static io.bathra.query.Ask.inside;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.FlushPlan;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.answer.Pending;
import io.bathra.attr.Converter;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.ModelException;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Query;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.util.Currency;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Values that are columns of their owner's row: records and objects, nested, two of a type, missing as a whole. */
@OnEachDatabase
class InlineTest {
    record Dimensions(BigDecimal length, BigDecimal beam, Integer decks) {}

    record Position(double latitude, double longitude) {}

    record Address(String street, String city, Position position) {}

    record Money(BigDecimal amount, Currency currency) {}

    /** A class that is changed in place. */
    static final class Contact {
        private String name;
        private String phone;
        private Address office;

        String phone() {
            return phone;
        }

        String name() {
            return name;
        }
    }

    static final class Yard {
        private Long id;
        private String name = "yard";
        private Dimensions dock;
        private Dimensions slip;
        private Address address;
        private Contact contact;
        private Money fee;

        Dimensions dock() {
            return dock;
        }

        Dimensions slip() {
            return slip;
        }

        Address address() {
            return address;
        }

        Contact contact() {
            return contact;
        }

        Money fee() {
            return fee;
        }
    }

    static final Converter<Currency, String> CODE =
            Converter.to(String.class, Currency::getCurrencyCode, Currency::getInstance);

    static final Entity<?>[] ENTITIES = {
        Entity.of(Yard.class, Yard::new)
                .inline(Yard::dock, required(), within(Dimensions::length, digits(5, 1), name("dock metres")))
                .inline(Yard::slip, prefix("s_"), within(Dimensions::beam, required()))
                .inline(Yard::address, within(Address::city, length(20)), within(Address::position, Position::latitude))
                .inline(Yard::contact, within(Contact::phone, secret()))
                .inline(Yard::fee, within(Money::currency, CODE, length(3)))
                .check(inside(Yard::slip).the(Dimensions::decks).atLeast(0))
    };

    static final Model MODEL = Model.of("yards", ENTITIES);

    private final Store store;

    InlineTest(TestDatabase database) {
        store = Trips.open(MODEL, database.empty());
    }

    static Yard yard() {
        Yard yard = new Yard();
        yard.dock = new Dimensions(new BigDecimal("120.5"), new BigDecimal("22.2500"), 1);
        yard.address = new Address("Quay 1", "Norderhafen", new Position(53.5, 9.9));
        yard.contact = new Contact();
        yard.contact.name = "Hinnerk";
        yard.contact.phone = "0404040";
        yard.contact.office = new Address("Quay 2", null, null);
        yard.fee = new Money(new BigDecimal("10.0000"), Currency.getInstance("EUR"));
        return yard;
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        store.run(work -> work.add(yard()));
    }

    @Test
    void aValueIsReadBackEqual() {
        assertThat(store.schema().verify()).isEmpty();
        Yard read = store.call(work -> work.require(Yard.class, 1L));
        assertThat(read).usingRecursiveComparison().ignoringFields("id").isEqualTo(yard());
        assertThat(read.slip).as("missing as a whole").isNull();
        assertThat(read.address.position()).isEqualTo(new Position(53.5, 9.9));
        assertThat(read.contact.office.position()).as("missing inside").isNull();
    }

    @Test
    void pendingValuesAreSeenInside() {
        try (UnitOfWork work = store.begin()) {
            Yard changed = work.require(Yard.class, 1L);
            changed.dock = new Dimensions(new BigDecimal("99.5"), new BigDecimal("20"), 2);
            Yard added = yard();
            added.slip = new Dimensions(new BigDecimal("7"), new BigDecimal("3"), 0);
            work.add(added);
            Query<Yard> yards = work.from(Yard.class).pending(Pending.OVERLAY);
            assertThat(yards.where(inside(Yard::dock).the(Dimensions::length).is(new BigDecimal("99.5")))
                            .one())
                    .isSameAs(changed);
            assertThat(yards.where(inside(Yard::slip).the(Dimensions::decks).is(0))
                            .one())
                    .isSameAs(added);
            assertThat(yards.orderBy(inside(Yard::dock).the(Dimensions::length).ascending())
                            .list())
                    .containsExactly(changed, added);
            assertThat(yards.sql().parameters()).as("a secret is among them").containsOnly("(secret)");
            assertThat(work.trace().toString()).doesNotContain("insert");
        }
    }

    @Test
    void aRecordIsReplacedAndAnObjectChangedInPlaceAndBothAreNoticed() {
        try (UnitOfWork work = store.begin()) {
            Yard yard = work.require(Yard.class, 1L);
            yard.dock = new Dimensions(new BigDecimal("120.50"), new BigDecimal("22.25"), 1);
            assertThat(work.standing(yard)).as("an equal value is none").isEqualTo(Standing.CLEAN);

            yard.contact.phone = "0505050";
            yard.slip = new Dimensions(null, new BigDecimal("9.5"), null);
            assertThat(work.changes())
                    .extracting(Object::toString)
                    .containsExactly(
                            "Yard 1.slip: null -> Dimensions[length=null, beam=9.5000, decks=null]",
                            "Yard 1.contact: (secret) -> (secret)");
            assertThat(work.plan().steps())
                    .singleElement()
                    .satisfies(step -> assertThat(step.columns())
                            .as("the changed values alone")
                            .hasSize(2));
            work.commit();
            yard.contact = null;
            yard.address = null;
            work.commit();
        }
        Yard read = store.call(work -> work.require(Yard.class, 1L));
        assertThat(read.slip).isEqualTo(new Dimensions(null, new BigDecimal("9.5000"), null));
        assertThat(read.contact).isNull();
        assertThat(read.address).isNull();
    }

    @Test
    void conditionsAndOrderingsReachInside() {
        List<Yard> found = store.call(work -> work.from(Yard.class)
                .where(
                        inside(Yard::address).text(Address::city).startsWith("Nord"),
                        inside(Yard::address)
                                .inside(Address::position)
                                .the(Position::latitude)
                                .above(50.0),
                        inside(Yard::fee).the(Money::amount).atMost(BigDecimal.TEN),
                        inside(Yard::slip).the(Dimensions::beam).isNull())
                .orderBy(inside(Yard::dock).the(Dimensions::decks).descending())
                .list());
        assertThat(found).hasSize(1);
    }

    @Test
    void whatDoesNotFitIsNamedWithTheWayToIt() {
        try (UnitOfWork work = store.begin()) {
            Yard yard = work.require(Yard.class, 1L);
            yard.dock = null;
            yard.slip = new Dimensions(BigDecimal.ONE, null, 3);
            yard.address = new Address("Quay 1", "a city of a very long name", null);
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining("Yard 1.dock = null: is required; set it")
                    .hasMessageContaining("Yard 1.slip.beam = null: is required; set it")
                    .hasMessageContaining("Yard 1.address.city = a city of a very long name: is 26 long");
        }
    }

    record Ring(Ring inner, int size) {}

    static final class Odd {
        private Long id;
        private Ring ring;
        private Holding holding;
        private Dimensions plain;

        Ring ring() {
            return ring;
        }

        Dimensions plain() {
            return plain;
        }
    }

    record Holding(Link<Yard> yard) {}

    record Unmade(int a) {
        int b() {
            return a;
        }
    }

    @Test
    void faultsAreListedWithTheirPlace() {
        assertThatThrownBy(() -> Model.of(
                        "odd",
                        Entity.of(Odd.class, Odd::new)
                                .inline(Odd::plain, within(Unmade::b, length(3)), prefix("id"), prefix("x"))))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("Odd.ring.inner: contains itself, so its columns would never end")
                .hasMessageContaining("Odd.holding.yard: is a Link, which cannot be inside an inlined value")
                .hasMessageContaining(
                        "Odd.plain: has options within(Unmade::b, ...), which names no member of Dimensions");
    }

    /** The columns by which the steps of a plan are told. */
    static List<String> steps(UnitOfWork work) {
        return work.plan().steps().stream().map(FlushPlan.Step::toString).toList();
    }
}
