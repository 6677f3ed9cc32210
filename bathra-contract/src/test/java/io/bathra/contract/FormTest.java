package io.bathra.contract;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.date;
import static io.bathra.query.Ask.number;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.attr.Converter;
import io.bathra.bulk.Rejection;
import io.bathra.error.BathraException;
import io.bathra.error.Flaw.Code;
import io.bathra.error.Problem;
import io.bathra.link.Later;
import io.bathra.link.Link;
import io.bathra.model.Declare;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What people type becomes values of entities, all of it or nothing, and all that is wrong is told at once. */
@OnEachDatabase
class FormTest {
    enum Goods {
        GRAIN,
        STEEL
    }

    record Size(Integer lengthCm, Integer beamCm) {}

    record Mark(String letters) {
        Mark {
            if (!letters.matches("[A-Z]+")) {
                throw new IllegalArgumentException("a mark has capital letters alone");
            }
        }
    }

    static final class Quay {
        Long id;
        String name;

        Long id() {
            return id;
        }

        String name() {
            return name;
        }
    }

    static final class Order {
        Long id;
        String number;
        Goods goods;
        BigDecimal tons;
        int parcels;
        LocalDate from;
        LocalDate until;
        Size size;
        Mark mark;
        String pin;
        final Later<String> remark = Later.empty();
        int priority;
        final Link<Quay> quay = Link.empty();
        int revision;

        Long id() {
            return id;
        }

        String number() {
            return number;
        }

        Goods goods() {
            return goods;
        }

        BigDecimal tons() {
            return tons;
        }

        int parcels() {
            return parcels;
        }

        LocalDate from() {
            return from;
        }

        LocalDate until() {
            return until;
        }

        Size size() {
            return size;
        }

        Mark mark() {
            return mark;
        }

        String pin() {
            return pin;
        }

        Later<String> remark() {
            return remark;
        }

        Link<Quay> quay() {
            return quay;
        }

        int priority() {
            return priority;
        }

        int revision() {
            return revision;
        }
    }

    private static final Model MODEL = Model.of(
            "orders",
            Entity.of(Quay.class, Quay::new).column(Quay::name, required(), length(20), unique()),
            Entity.of(Order.class, Order::new)
                    .table("goods order")
                    .column(Order::number, required(), length(7), unique())
                    .column(Order::goods, required())
                    .column(Order::tons, digits(6, 2))
                    .column(Order::mark, Converter.to(String.class, Mark::letters, Mark::new), length(9))
                    .column(Order::pin, length(4), Declare.secret())
                    .column(Order::remark, required(), length(40))
                    .column(Order::priority, Declare.databaseDefault("3"))
                    .link(Order::quay, required())
                    .check("few parcels", number(Order::parcels).atMost(99))
                    .check("ends after it begins", date(Order::until).atLeast(date(Order::from)))
                    .version(Order::revision));

    private final Store store;

    FormTest(TestDatabase database) {
        store = Trips.open(MODEL, database.empty());
        store.schema().createMissing();
        store.run(work -> {
            Quay quay = new Quay();
            quay.name = "North";
            work.add(quay);
        });
    }

    /** In the order of a form. */
    private static Map<String, String> form(String... namesAndTexts) {
        Map<String, String> form = new LinkedHashMap<>();
        for (int i = 0; i < namesAndTexts.length; i += 2) {
            form.put(namesAndTexts[i], namesAndTexts[i + 1]);
        }
        return form;
    }

    private static Map<String, String> good() {
        return form(
                "number", "O-1",
                "goods", " GRAIN ",
                "tons", "12.5",
                "parcels", "3",
                "from", "2026-04-01",
                "until", "2026-04-02",
                "size.lengthCm", "120",
                "mark", "AB",
                "pin", "1234",
                "remark", "handle with care ",
                "quay.name", "North");
    }

    private static List<Problem> bind(io.bathra.UnitOfWork work, Order order, Map<String, String> form) {
        return work.bind(
                order,
                form,
                Order::number,
                Order::goods,
                Order::tons,
                Order::parcels,
                Order::from,
                Order::until,
                Order::size,
                Order::mark,
                Order::pin,
                Order::remark,
                Order::quay);
    }

    private static List<String> told(List<Problem> problems) {
        return problems.stream()
                .map(problem -> problem.attribute() + " = " + problem.value() + " " + problem.words(Locale.ENGLISH))
                .toList();
    }

    @Test
    void whatIsTypedIsStored() {
        store.run(work -> {
            Order order = new Order();
            Map<String, String> form = good();
            form.put("id", "77");
            form.put("revision", "9");
            form.put("nonsense", "x");
            assertThat(bind(work, order, form)).isEmpty();
            work.add(order);
        });
        store.run(work -> {
            Order order = work.from(Order.class).one();
            assertThat(order.revision()).isZero();
            assertThat(order.goods()).isEqualTo(Goods.GRAIN);
            assertThat(order.tons()).isEqualByComparingTo("12.5");
            assertThat(order.size()).isEqualTo(new Size(120, null));
            assertThat(order.mark()).isEqualTo(new Mark("AB"));
            assertThat(order.quay().get().name()).isEqualTo("North");

            assertThat(bind(
                            work,
                            order,
                            form(
                                    "size.beamCm",
                                    "30",
                                    "mark",
                                    "  ",
                                    "quay",
                                    "" + order.quay().key())))
                    .isEmpty();
            assertThat(order.remark().isRead())
                    .as("what is read later is not missed")
                    .isFalse();
            assertThat(order.size()).as("the other member stays").isEqualTo(new Size(120, 30));
            assertThat(order.mark()).as("blank is nothing").isNull();
            assertThat(order.quay().isRead())
                    .as("the same key, so it stays read")
                    .isTrue();
            assertThat(order.remark().get()).isEqualTo("handle with care ");
            assertThat(work.commit().total().updated()).isEqualTo(1);
        });
    }

    @Test
    void everythingThatIsWrongIsToldAtOnceAndNothingIsSet() {
        store.run(work -> {
            Order order = new Order();
            order.number = "before";
            List<Problem> problems = bind(
                    work,
                    order,
                    form(
                            "number", "O-1234567",
                            "goods", "SAND",
                            "tons", "12345.678",
                            "parcels", "1e3",
                            "from", "soon",
                            "mark", "ab",
                            "pin", "12345",
                            "quay.name", "South",
                            "size.beamCm", "3000000000"));
            assertThat(told(problems))
                    .containsExactlyInAnyOrder(
                            "number = O-1234567 may have at most 7 characters",
                            "goods = SAND has to be one of GRAIN, STEEL",
                            "tons = 12345.678 may have at most 4 digits before the point and 2 behind it",
                            "parcels = 1e3 has to be a whole number, such as 42",
                            "from = soon has to be a date, such as 2026-04-01",
                            "mark = ab is not allowed",
                            "pin = (secret) may have at most 4 characters",
                            "remark = null is required",
                            "quay.name = South is not known",
                            "size.beamCm = 3000000000 has to be from -2,147,483,648 to 2,147,483,647");
            assertThat(problems.stream().map(Problem::toString))
                    .anyMatch(text -> text.contains("mark = ab: cannot be taken: Order.mark: the column's value"));
            assertThat(order.number()).isEqualTo("before");
            assertThat(order.size()).isNull();
        });
    }

    @Test
    void whatIsRequiredOfANewEntityIsMissedThoughNobodyNamesIt() {
        store.run(work -> {
            assertThat(told(bind(work, new Order(), form("number", " ", "parcels", ""))))
                    .containsExactlyInAnyOrder(
                            "number = null is required",
                            "parcels = null is required",
                            "goods = null is required",
                            "remark = null is required",
                            "quay = null is required");
            Order half = new Order();
            assertThat(work.bind(half, form("tons", "1"), Order::tons))
                    .as("others do not concern the form")
                    .isEmpty();
            assertThat(half.tons()).isEqualByComparingTo("1");
        });
    }

    @Test
    void declaredChecksAreToldWhereTheEntityAloneDecides() {
        store.run(work -> {
            Order order = new Order();
            assertThat(bind(work, order, good())).isEmpty();
            work.add(order);
            work.flush();
            List<Problem> problems = bind(work, order, form("parcels", "100", "until", "2026-03-31"));
            assertThat(told(problems))
                    .containsExactlyInAnyOrder(
                            "parcels = 100 is not allowed", "until+from = [2026-03-31, 2026-04-01] is not allowed");
            assertThat(problems).extracting(one -> one.flaw().code()).containsOnly(Code.CHECK);
            assertThat(problems)
                    .extracting(one -> one.flaw().arguments())
                    .containsExactlyInAnyOrder(List.of("few parcels"), List.of("ends after it begins"));
            assertThat(order.parcels()).isEqualTo(3);
        });
    }

    @Test
    void uniqueValuesAreToldAfterwards() {
        store.run(work -> {
            Order order = new Order();
            bind(work, order, good());
            work.add(order);
            work.commit();
            Order second = new Order();
            work.add(second);
            assertThat(bind(work, second, good())).isEmpty();
            assertThat(told(work.problems())).containsExactly("number = O-1 is taken");
            work.discard();
        });
    }

    @Test
    void aNameGivenTwiceIsTold() {
        store.run(work -> assertThat(told(work.bind(new Order(), form("quay", "1", "quay.name", "North"), Order::quay)))
                .containsExactly("quay.name = North is given more than once"));
    }

    @Test
    void aPrimitiveIsMissedThoughTheDatabaseHasAValueForIt() {
        store.run(work -> assertThat(told(work.bind(new Order(), form("priority", " "), Order::priority)))
                .containsExactly("priority = null is required"));
    }

    @Test
    void aProgramThatLetsEverythingOrTheImpossibleBeSetIsRefused() {
        store.run(work -> {
            assertThatThrownBy(() -> work.bind(new Order(), good()))
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("name the attributes that the form may set");
            assertThatThrownBy(() -> work.bind(new Order(), good(), Order::revision))
                    .hasMessage("Order.revision is not set by programs, so no form can give it; leave it out");
            assertThatThrownBy(() -> work.bind(new Order(), good(), Order::id)).hasMessageContaining("Order.id");
        });
    }

    @Test
    void linesOfAFileAreToldInOneRound() {
        List<Map<String, String>> lines = new ArrayList<>(List.of(good(), good()));
        lines.get(0).put("goods", "GRAIN");
        Map<String, String> bad = new HashMap<>(good());
        bad.put("number", null);
        bad.put("goods", "SAND");
        bad.put("tons", "123456");
        bad.put("until", "2026-03-31");
        bad.put("quay.name", "South");
        lines.set(1, bad);
        List<Rejection> rejections = new ArrayList<>();
        store.bulk(Order.class).texts().rejectTo(rejections::add).insert(lines);
        assertThat(rejections).extracting(Rejection::row).containsOnly(2L);
        assertThat(rejections.stream()
                        .map(one -> one.attribute() + " = " + one.value() + " " + one.words(Locale.ENGLISH)))
                .containsExactlyInAnyOrder(
                        "number = null is required",
                        "goods = SAND has to be one of GRAIN, STEEL",
                        "tons = 123456 may have at most 4 digits before the point and 2 behind it",
                        "until+from = [2026-03-31, 2026-04-01] is not allowed",
                        "quay.name = South is not known");
        store.run(work -> assertThat(work.from(Order.class).list())
                .extracting(Order::number)
                .containsExactly("O-1"));
    }
}
