package io.bathra.jdbc;

import static org.assertj.core.api.Assertions.assertThat;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What H2 says when several threads find one deadlock, which cannot be brought about at will. */
class H2FailuresTest {
    private static final int GENERAL_ERROR = 50000;

    private static Failure failure(String told) throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:h2:mem:")) {
            return Database.of(connection, null).failure(new SQLException(told, "HY000", GENERAL_ERROR));
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "General error: \"Transaction 2 has status ROLLING_BACK, not OPEN [2.5.252/103]\"",
                "General error: \"Transaction was illegally transitioned from ROLLING_BACK to ROLLING_BACK\""
            })
    void aDeadlockThatTwoHaveFoundIsOne(String told) throws SQLException {
        assertThat(failure(told)).isEqualTo(Failure.DEADLOCK);
    }

    @Test
    void anotherGeneralErrorIsNone() throws SQLException {
        assertThat(failure("General error: \"the disk is full\"")).isNotEqualTo(Failure.DEADLOCK);
    }
}
