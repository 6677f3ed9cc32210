package io.bathra.jdbc;

import io.bathra.attr.Secret;
import io.bathra.mapping.ColumnType;
import io.bathra.sql.Parameter;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;

/** Rows in PostgreSQL's COPY protocol, in its text format: the fastest way in that there is. */
final class PostgresCopy implements Database.RowSink {
    /** The driver sends what it is given at once, so it is given portions. */
    private static final int PORTION = 1 << 16;

    private final CopyIn copy;
    private final List<Parameter> parameters;
    private byte[] buffer = new byte[PORTION / 8];
    private int size;

    /**
     * Begins to copy.
     *
     * @param sql the {@code copy} statement
     */
    PostgresCopy(Connection connection, String sql, List<Parameter> parameters) throws SQLException {
        this.copy = connection.unwrap(PGConnection.class).getCopyAPI().copyIn(sql);
        this.parameters = parameters;
    }

    /** Whether a connection, or the one behind it, is of the driver that can. */
    static boolean isPossible(Connection connection) throws SQLException {
        return connection.isWrapperFor(PGConnection.class);
    }

    @Override
    public void write(@Nullable Object[] row) throws SQLException {
        append(row);
        if (size >= PORTION) {
            send();
        }
    }

    @Override
    public long end() throws SQLException {
        send();
        return copy.endCopy();
    }

    @Override
    public void cancel() throws SQLException {
        if (copy.isActive()) {
            copy.cancelCopy();
        }
    }

    private void send() throws SQLException {
        copy.writeToCopy(buffer, 0, size);
        size = 0;
    }

    private void append(@Nullable Object[] row) {
        for (int i = 0; i < parameters.size(); i++) {
            if (i > 0) {
                put('\t');
            }
            Parameter parameter = parameters.get(i);
            Object value = Secret.open(parameter.in(row));
            if (value == null) {
                put('\\');
                put('N');
            } else {
                value(parameter.type(), value);
            }
        }
        put('\n');
    }

    private void value(ColumnType type, Object value) {
        switch (type.kind()) {
            case BOOLEAN -> put((Boolean) value ? 't' : 'f');
            case BYTE, SHORT, INTEGER, LONG -> number(((Number) value).longValue());
            case FLOAT, DOUBLE, UUID -> plain(value.toString());
            case DECIMAL -> plain(((BigDecimal) value).toPlainString());
            case DATE, TIME, DATE_TIME, INSTANT -> plain(PostgresTimes.text(value));
            case ENUM -> escaped(value instanceof Enum<?> constant ? constant.name() : value.toString());
            case CHARACTER, STRING, LONG_TEXT -> escaped(value.toString());
            case BYTES -> plain("\\\\x" + HexFormat.of().formatHex((byte[]) value));
        }
    }

    private void put(int one) {
        if (size == buffer.length) {
            buffer = Arrays.copyOf(buffer, size * 2);
        }
        buffer[size++] = (byte) one;
    }

    private void number(long value) {
        plain(Long.toString(value));
    }

    /** A text of ASCII in which nothing has a meaning of its own. */
    @SuppressWarnings("deprecation") // the characters are ASCII, so their low bytes are what is wanted
    private void plain(String text) {
        int length = text.length();
        if (size + length > buffer.length) {
            buffer = Arrays.copyOf(buffer, Math.max(buffer.length * 2, size + length));
        }
        text.getBytes(0, length, buffer, size);
        size += length;
    }

    private void escaped(String text) {
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c >= 0x80) {
                encoded(text.substring(i)); // the rest at once
                return;
            }
            ascii(c);
        }
    }

    private void encoded(String text) {
        for (byte one : text.getBytes(StandardCharsets.UTF_8)) {
            ascii(one);
        }
    }

    /** Bytes of characters beyond ASCII have no meaning of their own either. */
    private void ascii(int c) {
        switch (c) {
            case '\\', '\t', '\n', '\r' -> {
                put('\\');
                put(c == '\t' ? 't' : c == '\n' ? 'n' : c == '\r' ? 'r' : c);
            }
            default -> put(c);
        }
    }
}
