package io.bathra.jackson2;

import com.fasterxml.jackson.core.JsonGenerator;
import io.bathra.json.format.JsonSink;
import java.io.IOException;
import java.io.UncheckedIOException;

/** Writes what it takes with a generator. */
final class GeneratorSink implements JsonSink {
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
        done(() -> generator.writeFieldName(name));
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
