package io.bathra.jackson3;

import io.bathra.json.format.JsonSink;
import tools.jackson.core.JsonGenerator;

/** Writes what it takes with a generator. */
final class GeneratorSink implements JsonSink {
    private final JsonGenerator generator;

    GeneratorSink(JsonGenerator generator) {
        this.generator = generator;
    }

    @Override
    public void beginObject() {
        generator.writeStartObject();
    }

    @Override
    public void name(String name) {
        generator.writeName(name);
    }

    @Override
    public void endObject() {
        generator.writeEndObject();
    }

    @Override
    public void beginList() {
        generator.writeStartArray();
    }

    @Override
    public void endList() {
        generator.writeEndArray();
    }

    @Override
    public void text(String value) {
        generator.writeString(value);
    }

    @Override
    public void whole(long value) {
        generator.writeNumber(value);
    }

    @Override
    public void number(String digits) {
        generator.writeNumber(digits);
    }

    @Override
    public void truth(boolean value) {
        generator.writeBoolean(value);
    }

    @Override
    public void nothing() {
        generator.writeNull();
    }

    @Override
    public void json(String value) {
        generator.writeRawValue(value);
    }

    @Override
    public void close() {
        generator.close();
    }
}
