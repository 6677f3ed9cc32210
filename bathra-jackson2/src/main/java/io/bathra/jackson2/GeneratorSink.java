package io.bathra.jackson2;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.SerializableString;
import com.fasterxml.jackson.core.io.SerializedString;
import io.bathra.json.format.JsonSink;
import java.io.IOException;
import java.io.UncheckedIOException;

/** Writes what it takes with a generator. */
final class GeneratorSink implements JsonSink {
    /**
     * Names as they were encoded last, by hash: a name is written ten thousand times as often as it is new. Where two
     * have one place, or two threads write it, the worst is that a name is encoded again.
     */
    private static final SerializedString[] NAMES = new SerializedString[1024];

    private final JsonGenerator generator;

    GeneratorSink(JsonGenerator generator) {
        this.generator = generator;
    }

    /** One token. */
    private interface Writing {
        void write() throws IOException;
    }

    private static void done(Writing writing) {
        try {
            writing.write();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @Override
    public void beginObject() {
        done(generator::writeStartObject);
    }

    @Override
    public void name(String name) {
        SerializableString encoded = encoded(name);
        done(() -> generator.writeFieldName(encoded));
    }

    private static SerializableString encoded(String name) {
        int place = name.hashCode() & (NAMES.length - 1);
        SerializedString known = NAMES[place];
        if (known == null || known.getValue() != name) { // the names of fields are the same objects each time
            known = new SerializedString(name);
            NAMES[place] = known;
        }
        return known;
    }

    @Override
    public void endObject() {
        done(generator::writeEndObject);
    }

    @Override
    public void beginList() {
        done(generator::writeStartArray);
    }

    @Override
    public void endList() {
        done(generator::writeEndArray);
    }

    @Override
    public void text(String value) {
        done(() -> generator.writeString(value));
    }

    @Override
    public void whole(long value) {
        done(() -> generator.writeNumber(value));
    }

    @Override
    public void number(String digits) {
        done(() -> generator.writeNumber(digits));
    }

    @Override
    public void truth(boolean value) {
        done(() -> generator.writeBoolean(value));
    }

    @Override
    public void nothing() {
        done(generator::writeNull);
    }

    @Override
    public void json(String value) {
        done(() -> generator.writeRawValue(value));
    }

    @Override
    public void close() {
        done(generator::close);
    }
}
