package io.bathra.jdbc;

import java.sql.Blob;
import java.sql.Clob;
import java.sql.Date;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Time;
import java.sql.Timestamp;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import org.jspecify.annotations.Nullable;

/** Values of columns that no model tells about: as the driver gives them, but in the classes of today. */
final class PlainValues {
    private PlainValues() {}

    /**
     * A value.
     *
     * @param value what the driver gives
     */
    static @Nullable Object read(ResultSet result, int index, @Nullable Object value) throws SQLException {
        if (value instanceof Timestamp) {
            return result.getObject(index, LocalDateTime.class);
        } else if (value instanceof Date) {
            return result.getObject(index, LocalDate.class);
        } else if (value instanceof Time) {
            return result.getObject(index, LocalTime.class);
        } else if (value instanceof Clob) {
            return result.getString(index);
        } else if (value instanceof Blob) {
            return result.getBytes(index);
        }
        return value;
    }
}
