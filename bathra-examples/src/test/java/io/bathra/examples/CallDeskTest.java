package io.bathra.examples;

import static io.bathra.junit.BathraAssertions.assertThat;
import static io.bathra.junit.BathraAssertions.assertThatPlan;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.examples.guide.CallDesk;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Vessel;
import io.bathra.junit.AtMost;
import io.bathra.junit.StoreExtension;
import io.bathra.junit.Turns;
import io.bathra.junit.WithStore;
import java.time.Duration;
import java.time.LocalDateTime;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.jupiter.params.ParameterizedClass;
import org.junit.jupiter.params.provider.EnumSource;

/** The tests of the guide's page on testing, on each database. */
@Tag("exhaustive")
@ParameterizedClass
@EnumSource
class CallDeskTest {
    private static final LocalDateTime MORNING = LocalDateTime.of(2026, 4, 1, 6, 30);

    @RegisterExtension
    final StoreExtension db;

    private CallDesk desk;

    CallDeskTest(WithStore.Database database) {
        db = StoreExtension.of(Harbour.MODEL).on(database);
    }

    @BeforeEach
    void theDesk() {
        desk = new CallDesk(db.store());
    }

    private void twoCalls() {
        db.addCsv(Vessel.class, """
                imo,name
                9123456,Nordgull
                9234567,Ternros
                """);
        db.addCsv(PortCall.class, """
                number,vessel.imo,eta,status
                26-000001,9123456,2026-04-01T06:30,EXPECTED
                26-000002,9234567,2026-04-01T09:00,EXPECTED
                """);
    }

    @Test
    void aVesselThatIsKnownIsNotStoredAgain() {
        twoCalls();
        desk.announce("26-000003", "9234567", "Ternros", MORNING.plusDays(2));
        db.assertRows("""
                port_call
                  number    | vessel_id | status
                  26-000001 | vessel#1  | EXPECTED
                  26-000002 | vessel#2  | EXPECTED
                  26-000003 | vessel#2  | EXPECTED
                """);
    }

    @Test
    @AtMost(5)
    void allVesselsOfADayAreReadAtOnce() {
        twoCalls();
        List<String> names = desk.delay(MORNING.toLocalDate().atStartOfDay(), Duration.ofHours(2));
        assertThat(names).containsExactly("Nordgull", "Ternros");
        assertThat(db.statements()).noneRepeated().inserts(0).deletes(0);
    }

    @Test
    void aDeadlockIsTriedAgain() {
        db.faults().on(2).deadlock();
        desk.announce("26-000003", "9345678", "Skua", MORNING);
        assertThat(db.rows("vessel", "name")).contains("Skua");
    }

    @Test
    void whateverFailsNothingIsLost() {
        twoCalls();
        PortCall call = new PortCall("26-000003", new Vessel("9345678", "Skua"), MORNING);
        db.everyStatementFails(work -> work.add(call), call);
    }

    @Test
    void aNewVesselComesBeforeItsCall() {
        PortCall call = new PortCall("26-000003", new Vessel("9345678", "Skua"), MORNING);
        assertThatPlan(Harbour.MODEL, call).inserts(Vessel.class, 1).before(PortCall.class);
    }

    @Test
    void timeStandsStill() {
        db.clock().advance(Duration.ofMinutes(20));
        assertThat(db.clock().instant()).isEqualTo("2026-01-02T03:24:05Z");
    }

    @Test
    void twoAtOnceTakeTurns() {
        twoCalls();
        Turns turns = Turns.inOrder("Ada is done", "Bo begins");
        List<@Nullable Throwable> failures = turns.run(
                () -> {
                    desk.announce("26-000003", "9345678", "Skua", MORNING);
                    turns.pass("Ada is done");
                },
                () -> {
                    turns.pass("Bo begins");
                    desk.announce("26-000004", "9345678", "Skua", MORNING);
                });
        assertThat(failures).containsOnlyNulls();
        assertThat(db.rows("port_call", "number", "vessel_id")).contains("26-000004 | vessel#3");
    }
}
