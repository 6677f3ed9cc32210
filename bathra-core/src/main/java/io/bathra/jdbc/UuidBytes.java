package io.bathra.jdbc;

import java.nio.ByteBuffer;
import java.util.UUID;

/** UUIDs as sixteen bytes, for databases without a type of their own; they sort as unsigned numbers. */
final class UuidBytes {
    private UuidBytes() {}

    static byte[] of(UUID uuid) {
        return ByteBuffer.allocate(16)
                .putLong(uuid.getMostSignificantBits())
                .putLong(uuid.getLeastSignificantBits())
                .array();
    }

    static UUID uuid(byte[] bytes) {
        ByteBuffer buffer = ByteBuffer.wrap(bytes);
        return new UUID(buffer.getLong(), buffer.getLong());
    }
}
