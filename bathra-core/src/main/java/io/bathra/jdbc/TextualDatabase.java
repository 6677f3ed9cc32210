package io.bathra.jdbc;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import io.bathra.sql.Dialect;
import java.util.UUID;

/** A driver to which dates and times go as text, and UUIDs as bytes. */
abstract class TextualDatabase extends Database {
    private final TextTimes times;

    TextualDatabase(Dialect dialect, TextTimes times) {
        super(dialect);
        this.times = times;
    }

    @Override
    Object toJdbc(ColumnType type, Object value) {
        if (TextTimes.covers(type)) {
            return times.text(value);
        }
        return type.kind() == Kind.UUID ? UuidBytes.of((UUID) value) : super.toJdbc(type, value);
    }

    @Override
    ColumnReader newReader(ColumnType type) {
        if (TextTimes.covers(type)) {
            return (result, index) -> {
                String text = result.getString(index);
                return text == null ? null : times.value(type, text);
            };
        }
        if (type.kind() == Kind.UUID) {
            return (result, index) -> {
                byte[] bytes = result.getBytes(index);
                return bytes == null ? null : UuidBytes.uuid(bytes);
            };
        }
        return super.newReader(type);
    }
}
