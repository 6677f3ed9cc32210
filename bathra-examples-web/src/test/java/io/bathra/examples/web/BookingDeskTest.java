package io.bathra.examples.web;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.error.InvalidChangesException;
import io.bathra.spring.Units;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.jdbc.test.autoconfigure.JdbcTest;
import org.springframework.context.annotation.Import;
import org.springframework.jdbc.core.JdbcTemplate;

/** The desk on a database alone; each test's transaction is rolled back. */
@JdbcTest(properties = "bathra.tables=make-missing")
@Import(BookingDesk.class)
class BookingDeskTest {
    @Autowired
    BookingDesk desk;

    @Autowired
    Units units;

    @Autowired
    JdbcTemplate jdbc;

    private static Map<String, String> form(String number, String eta) {
        return Map.of("number", number, "vessel", "Skua", "berth", "B1", "eta", eta, "draughtCentimetres", "410");
    }

    @Test
    void aBookingIsStored() {
        desk.create(form("26-000001", "2026-04-01T06:30"));
        assertThat(jdbc.queryForObject("select vessel from booking", String.class))
                .isEqualTo("Skua");
    }

    @Test
    void aFormWithProblemsIsRefused() {
        assertThatThrownBy(() -> desk.create(form("26-0000011", "soon")))
                .isInstanceOf(InvalidChangesException.class)
                .hasMessageContaining("number")
                .hasMessageContaining("eta");
    }

    @Test
    void jdbcSeesWhatIsPendingAfterAFlush() {
        units.here().add(new Booking("26-000002", "Tern", "B2"));
        assertThat(jdbc.queryForObject("select count(*) from booking", Integer.class))
                .isZero();
        units.flush();
        assertThat(jdbc.queryForObject("select count(*) from booking", Integer.class))
                .isEqualTo(1);
    }
}
