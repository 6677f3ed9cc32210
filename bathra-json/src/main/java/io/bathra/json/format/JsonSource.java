package io.bathra.json.format;

/** Gives the tokens of a JSON text in order. */
public interface JsonSource extends AutoCloseable {
    /** Kinds of tokens. */
    enum Token {
        OBJECT,
        END_OF_OBJECT,
        LIST,
        END_OF_LIST,
        NAME,
        TEXT,
        NUMBER,
        TRUE,
        FALSE,
        NOTHING,
        /** Behind the last one. */
        END
    }

    /**
     * The next token.
     *
     * @throws MalformedJson when the text goes on as no JSON does, or beyond what is allowed
     */
    Token next();

    /**
     * The name, text or digits of this token.
     *
     * @throws MalformedJson when it is longer than what is allowed
     */
    String text();

    /** How many characters {@link #text} has, where that can be told without making it; else 0. */
    int length();

    /**
     * Goes to the end of the object or list that begins with this token.
     *
     * @throws MalformedJson when it does not end
     */
    void skip();

    /** Where this token stands, for people: {@code line 3, column 14}. */
    String place();

    @Override
    void close();
}
