package io.bathra.jackson3;

import io.bathra.json.format.JsonSink;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.SerializableString;
import tools.jackson.core.io.SerializedString;

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

    @Override
    public void beginObject() {
        generator.writeStartObject();
    }

    @Override
    public void name(String name) {
        SerializableString encoded = encoded(name);
        generator.writeName(encoded);
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
