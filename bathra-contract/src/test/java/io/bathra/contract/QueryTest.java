package io.bathra.contract;

import static io.bathra.query.Ask.allOf;
import static io.bathra.query.Ask.anyOf;
import static io.bathra.query.Ask.not;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.UnitOfWork;
import io.bathra.error.NotExactlyOneException;
import io.bathra.harbour.CallStatus;
import io.bathra.harbour.Operator;
import io.bathra.harbour.PortCall;
import io.bathra.harbour.Vessel;
import io.bathra.query.Condition;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Typed questions and their answers. */
class QueryTest extends HarbourContract {
    QueryTest(TestDatabase database) {
        super(database);
    }

    /** Vessels 0 to 4 in this order; lengths 100, 200, none, 150.5, none; 0 and 1 have an operator. */
    @BeforeEach
    void storeVessels() {
        Operator operator = new Operator("50% Ø'Hara_");
        List<String> names = List.of("Æbelø", "100% sure", "under_score", "it's!", "Zebra");
        List<BigDecimal> lengths =
                Arrays.asList(new BigDecimal("100"), new BigDecimal("200"), null, new BigDecimal("150.5"), null);
        store.run(work -> IntStream.range(0, 5).forEach(i -> {
            Vessel vessel = new Vessel("900000" + i, names.get(i));
            vessel.setLengthMetres(lengths.get(i));
            if (i < 2) {
                vessel.operator().set(operator);
            }
            PortCall call = new PortCall(vessel, NOON.plusDays(i));
            call.status(i == 4 ? CallStatus.DEPARTED : CallStatus.EXPECTED);
            work.add(vessel);
            work.add(call);
        }));
    }

    @SafeVarargs
    @SuppressWarnings("varargs")
    private List<Integer> vesselsWhere(Condition<? super Vessel>... conditions) {
        return store.call(
                work -> work
                        .from(Vessel.class)
                        .where(conditions)
                        .orderBy(the(Vessel::imo).ascending())
                        .list()
                        .stream()
                        .map(vessel -> vessel.imo().charAt(6) - '0')
                        .toList());
    }

    @Test
    void conditionsOnValues() {
        BigDecimal m150 = new BigDecimal("150.5");
        assertThat(vesselsWhere(the(Vessel::imo).is("9000001"))).containsExactly(1);
        assertThat(vesselsWhere(the(Vessel::imo).isNot("9000001"))).containsExactly(0, 2, 3, 4);
        assertThat(vesselsWhere(the(Vessel::getLengthMetres).above(m150))).containsExactly(1);
        assertThat(vesselsWhere(the(Vessel::getLengthMetres).atLeast(m150))).containsExactly(1, 3);
        assertThat(vesselsWhere(the(Vessel::getLengthMetres).below(m150))).containsExactly(0);
        assertThat(vesselsWhere(the(Vessel::getLengthMetres).atMost(m150))).containsExactly(0, 3);
        assertThat(vesselsWhere(the(Vessel::getLengthMetres).between(new BigDecimal("120"), m150)))
                .containsExactly(3);
        assertThat(vesselsWhere(the(Vessel::getLengthMetres).isNull())).containsExactly(2, 4);
        assertThat(vesselsWhere(the(Vessel::getLengthMetres).isNotNull())).containsExactly(0, 1, 3);
        assertThat(vesselsWhere(the(Vessel::imo).in("9000004", "9000002", "x"))).containsExactly(2, 4);
        assertThat(vesselsWhere(the(Vessel::imo).in(List.of()))).isEmpty();
        assertThat(vesselsWhere(the(Vessel::imo)
                        .in(IntStream.range(1, 30).mapToObj(i -> "900000" + i).toList())))
                .containsExactly(1, 2, 3, 4);
    }

    @Test
    void conditionsCombined() {
        Condition<Vessel> small = the(Vessel::imo).below("9000002");
        Condition<Vessel> last = the(Vessel::imo).is("9000004");
        assertThat(vesselsWhere(anyOf(small, last))).containsExactly(0, 1, 4);
        assertThat(vesselsWhere(not(anyOf(small, last)))).containsExactly(2, 3);
        assertThat(vesselsWhere(allOf(small, not(the(Vessel::imo).is("9000000")))))
                .containsExactly(1);
        assertThat(vesselsWhere(small, last)).isEmpty();
        assertThat(vesselsWhere(anyOf())).isEmpty();
        assertThat(vesselsWhere(allOf())).hasSize(5);
        assertThat(anyOf(small, the(Vessel::getLengthMetres).isNotNull()))
                .hasToString("(imo < ? or lengthMetres is not null)");
    }

    @Test
    void wildcardsInValuesStandForThemselves() {
        assertThat(vesselsWhere(text(Vessel.class, Vessel::name).contains("%"))).containsExactly(1);
        assertThat(vesselsWhere(text(Vessel.class, Vessel::name).contains("_"))).containsExactly(2);
        assertThat(vesselsWhere(text(Vessel.class, Vessel::name).endsWith("!"))).containsExactly(3);
        assertThat(vesselsWhere(text(Vessel.class, Vessel::name).contains("'s")))
                .containsExactly(3);
        assertThat(vesselsWhere(text(Vessel.class, Vessel::name).startsWith("Æ")))
                .containsExactly(0);
        assertThat(vesselsWhere(text(Vessel.class, Vessel::name).startsWith("z")))
                .as("case counts")
                .isEmpty();
        assertThat(vesselsWhere(the(Vessel.class, Vessel::name).is("x' or '1' = '1")))
                .isEmpty();
    }

    @Test
    void pathsOverLinks() {
        assertThat(vesselsWhere(text(Vessel::operator, Operator::name).startsWith("50%")))
                .containsExactly(0, 1);
        store.run(work -> {
            List<PortCall> calls = work.from(PortCall.class)
                    .where(text(PortCall::vessel, Vessel::operator, Operator::name)
                            .contains("Hara"))
                    .where(the(PortCall::vessel, Vessel::imo).above("9000000"))
                    .list();
            assertThat(calls).singleElement().extracting(PortCall::eta).isEqualTo(NOON.plusDays(1));
            assertThat(sql(work).get(0))
                    .as("two paths over one link share its join")
                    .containsOnlyOnce("join vessel");
            assertThat(work.from(PortCall.class)
                            .where(the(PortCall.class, PortCall::status).in(CallStatus.DEPARTED, CallStatus.ALONGSIDE))
                            .count())
                    .isEqualTo(1);
        });
    }

    @Test
    void rowsWithoutAValueCountAsTheSmallest() {
        store.run(work -> {
            assertThat(work.from(Vessel.class)
                            .orderBy(the(Vessel::getLengthMetres).ascending())
                            .list())
                    .extracting(Vessel::imo)
                    .containsExactly("9000002", "9000004", "9000000", "9000003", "9000001");
            assertThat(work.from(Vessel.class)
                            .orderBy(
                                    the(Vessel::getLengthMetres).descending(),
                                    the(Vessel::imo).descending())
                            .list())
                    .extracting(Vessel::imo)
                    .containsExactly("9000001", "9000003", "9000000", "9000004", "9000002");
            assertThat(work.from(Vessel.class)
                            .orderBy(
                                    text(Vessel::operator, Operator::name).ascending(),
                                    the(Vessel::imo).ascending())
                            .limit(4)
                            .offset(1)
                            .list())
                    .extracting(Vessel::imo)
                    .containsExactly("9000003", "9000004", "9000000", "9000001");
        });
    }

    @Test
    void anOffsetNeedsNoLimit() {
        store.run(work -> {
            assertThat(work.from(Vessel.class)
                            .orderBy(the(Vessel::imo).ascending())
                            .offset(3)
                            .list())
                    .extracting(Vessel::imo)
                    .containsExactly("9000003", "9000004");
            assertThat(work.from(Vessel.class).offset(5).list()).isEmpty();
            assertThat(work.from(Vessel.class).limit(0).list()).isEmpty();
        });
    }

    @Test
    void listsOfThousandsOfValuesAreTaken() {
        List<String> many =
                IntStream.range(8_999_000, 9_019_000).mapToObj(String::valueOf).toList();
        assertThat(vesselsWhere(the(Vessel::imo).in(many))).containsExactly(0, 1, 2, 3, 4);
    }

    @Test
    void oneFirstAndCount() {
        try (UnitOfWork work = store.begin()) {
            assertThat(work.from(Vessel.class).count()).isEqualTo(5);
            assertThat(work.from(Vessel.class)
                            .orderBy(the(Vessel::imo).descending())
                            .first())
                    .get()
                    .extracting(Vessel::imo)
                    .isEqualTo("9000004");
            assertThat(work.from(Vessel.class)
                            .where(the(Vessel::imo).is("none"))
                            .first())
                    .isEmpty();
            assertThatThrownBy(() -> work.from(Vessel.class)
                            .where(the(Vessel::imo).above("9000001"))
                            .one())
                    .isInstanceOf(NotExactlyOneException.class)
                    .hasMessageContaining("3 are there: from Vessel where imo > '9000001'");
            assertThatThrownBy(() -> work.from(Vessel.class)
                            .where(the(Vessel::imo).is("none"))
                            .one())
                    .hasMessageContaining("none is there");
            assertThatThrownBy(() -> work.from(Vessel.class).limit(-1)).hasMessageContaining("-1");
            assertThatThrownBy(() -> the(Vessel::imo).is((String) null))
                    .hasMessage("imo = null is never true; use isNull()");
        }
    }

    @Test
    void whatIsForgottenIsForgottenAlone() {
        store.run(work -> {
            work.from(PortCall.class).delete();
            work.from(Vessel.class).delete();
        });
        storeFleet(300, 0);
        store.run(work -> {
            Map<Long, Vessel> known = new HashMap<>();
            work.from(Vessel.class).list().forEach(vessel -> known.put(vessel.id(), vessel));
            Random random = new Random(11);
            for (int round = 0; round < 3; round++) {
                List<Long> ids = new ArrayList<>(known.keySet());
                Collections.shuffle(ids, random);
                ids.subList(0, 60).forEach(id -> work.forget(known.remove(id)));
                int statements = work.trace().statements().size();
                known.forEach((id, vessel) ->
                        assertThat(work.require(Vessel.class, id)).isSameAs(vessel));
                assertThat(work.trace().statements()).hasSize(statements);
            }
        });
    }

    @Test
    void whatIsReadAlongNeedsNoMoreStatements() {
        try (UnitOfWork work = store.begin()) {
            List<Vessel> vessels = work.from(Vessel.class)
                    .alongWith(Vessel::operator, Vessel::calls)
                    .list();
            int statements = work.trace().statements().size();
            assertThat(statements).isEqualTo(2);
            vessels.forEach(vessel -> {
                assertThat(vessel.calls()).hasSize(1);
                vessel.operator().find().ifPresent(Operator::name);
            });
            assertThat(work.trace().statements()).hasSize(statements);
        }
    }
}
