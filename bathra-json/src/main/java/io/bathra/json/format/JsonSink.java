package io.bathra.json.format;

/** Takes the tokens of a JSON text in order. */
public interface JsonSink extends AutoCloseable {
    /** An object begins. */
    void beginObject();

    /**
     * The name of what comes next.
     *
     * @param name the name
     */
    void name(String name);

    /** The object ends. */
    void endObject();

    /** A list begins. */
    void beginList();

    /** The list ends. */
    void endList();

    /**
     * A text.
     *
     * @param value the value
     */
    void text(String value);

    /**
     * A whole number.
     *
     * @param value the value
     */
    void whole(long value);

    /**
     * A number as it is to be written, such as {@code 12.50}.
     *
     * @param digits the digits
     */
    void number(String digits);

    /**
     * True or false.
     *
     * @param value the value
     */
    void truth(boolean value);

    /** There is no value. */
    void nothing();

    /**
     * A whole value that is JSON already.
     *
     * @param value the value
     */
    void json(String value);

    /** Sends away what it holds. */
    @Override
    void close();
}
