package io.bathra.json.format;

/** Takes the tokens of a JSON text in order. */
public interface JsonSink extends AutoCloseable {
    void beginObject();

    void name(String name);

    void endObject();

    void beginList();

    void endList();

    void text(String value);

    void whole(long value);

    /** A number as it is to be written, such as {@code 12.50}. */
    void number(String digits);

    void truth(boolean value);

    void nothing();

    /** A whole value that is JSON already. */
    void json(String value);

    /** Sends away what it holds. */
    @Override
    void close();
}
