package io.bathra.jdbc;

import static org.assertj.core.api.Assertions.assertThat;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import org.junit.jupiter.api.Test;

class CancellationTest {
    private final Cancellation cancellation = new Cancellation();

    @Test
    void whatCameTooLateForAStatementIsNotToldOfTheNext() throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:h2:mem:");
                Statement committing = connection.createStatement();
                Statement next = connection.createStatement()) {
            cancellation.begun(committing);
            assertThat(cancellation.cancel()).isTrue();
            cancellation.ended();
            cancellation.begun(next);
            assertThat(cancellation.isTold(false)).as("it ends well").isFalse();
            assertThat(cancellation.isTold(true))
                    .as("the server stops it in place of the other")
                    .isTrue();
            assertThat(cancellation.isTold(true)).as("told once").isFalse();
            cancellation.ended();
            assertThat(cancellation.cancel()).as("nothing runs").isFalse();
        }
    }
}
