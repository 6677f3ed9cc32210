package io.bathra.json.format;

/** Gives the tokens of a JSON text in order. */
public interface JsonSource extends AutoCloseable {
    /** Kinds of tokens. */
    enum Token {
        /** An object begins. */
        OBJECT,
        /** An object ends. */
        END_OF_OBJECT,
        /** A list begins. */
        LIST,
        /** A list ends. */
        END_OF_LIST,
        /** The name of what comes next. */
        NAME,
        /** A text. */
        TEXT,
        /** A number. */
        NUMBER,
        /** True. */
        TRUE,
        /** False. */
        FALSE,
        /** There is no value. */
        NOTHING,
        /** Behind the last one. */
        END
    }

    /**
     * {@return the next token}
     *
     * @throws MalformedJson when the text goes on as no JSON does, or beyond what is allowed
     */
    Token next();

    /**
     * {@return the name, text or digits of this token}
     *
     * @throws MalformedJson when it is longer than what is allowed
     */
    String text();

    /** {@return how many characters {@link #text} has, where that can be told without making it; else 0} */
    int length();

    /**
     * Goes to the end of the object or list that begins with this token.
     *
     * @throws MalformedJson when it does not end
     */
    void skip();

    /** {@return where this token stands, for people: {@code line 3, column 14}} */
    String place();

    @Override
    void close();
}
