package io.bathra.testing;

import java.sql.Connection;
import java.util.Locale;
import org.h2.api.Trigger;

/** What the other databases write in SQL: the mark, which is the last column, in capitals. */
public final class CapitalsTrigger implements Trigger {
    @Override
    public void fire(Connection connection, Object[] before, Object[] after) {
        Object mark = after[after.length - 1];
        after[after.length - 1] = mark == null ? null : mark.toString().toUpperCase(Locale.ROOT);
    }
}
