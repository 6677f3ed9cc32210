package io.bathra.jdbc;

import java.sql.ResultSet;
import java.sql.SQLException;
import org.jspecify.annotations.Nullable;

/** Reads the values of one column. Made once for a column's type, so that nothing has to be decided for each row. */
@FunctionalInterface
public interface ColumnReader {
    /** The value in the current row, as the attribute holds it; null when it is missing. */
    @Nullable
    Object read(ResultSet result, int index) throws SQLException;
}
