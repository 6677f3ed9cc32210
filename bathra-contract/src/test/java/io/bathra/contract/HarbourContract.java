package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.harbour.Harbour;
import io.bathra.harbour.Operator;
import io.bathra.harbour.PortCall;
import io.bathra.harbour.Vessel;
import io.bathra.junit.Faults;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.TraceLine;
import java.time.LocalDateTime;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;

/** What all tests of the harbour on a database share: an empty schema, and a store on it. */
@OnEachDatabase
abstract class HarbourContract {
    static final LocalDateTime NOON = LocalDateTime.of(2026, 4, 1, 12, 0);

    final TestDatabase database;
    DataSource plain;
    Faults faults;
    Store store;

    HarbourContract(TestDatabase database) {
        this.database = database;
    }

    @BeforeEach
    void createSchema() {
        plain = database.empty();
        faults = Faults.in(plain);
        store = Trips.open(Harbour.MODEL, faults.source()).withKeysAhead(0);
        store.schema().createMissing();
    }

    /** Whatever a test does, no connection is left open. */
    @AfterEach
    void everyConnectionIsGivenBack() {
        assertThat(faults.open()).isZero();
    }

    /** One operator with so many vessels, each with so many calls; stored, and known to no unit. */
    void storeFleet(int vessels, int callsEach) {
        store.run(work -> {
            Operator operator = new Operator("Nordlicht");
            for (int v = 0; v < vessels; v++) {
                Vessel vessel = new Vessel(String.format("9%06d", v), "North " + v);
                operator.vessels().add(vessel);
                for (int c = 0; c < callsEach; c++) {
                    vessel.calls().add(new PortCall(vessel, NOON.plusHours(v).plusDays(c)));
                }
            }
            work.add(operator);
        });
    }

    long count(Class<?> entity) {
        return store.call(work -> work.from(entity).count());
    }

    static List<String> sql(UnitOfWork work) {
        return work.trace().statements().stream().map(TraceLine::sql).toList();
    }
}
