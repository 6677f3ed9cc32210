package io.bathra.jackson3;

import io.bathra.json.format.JsonSource;
import io.bathra.json.format.MalformedJson;
import java.io.CharConversionException;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.TokenStreamLocation;
import tools.jackson.core.exc.JacksonIOException;

/** Gives the tokens of a parser: of a whole text, or of the value that begins where the parser stands. */
final class ParserSource implements JsonSource {
    private final JsonParser parser;
    private final boolean all;
    private int depth;
    private boolean begun;

    private ParserSource(JsonParser parser, boolean all) {
        this.parser = parser;
        this.all = all;
    }

    static ParserSource ofAll(JsonParser parser) {
        return new ParserSource(parser, true);
    }

    static ParserSource ofValueAt(JsonParser parser) {
        return new ParserSource(parser, false);
    }

    @Override
    public Token next() {
        try {
            boolean here = !all && !begun;
            if (!all && begun && depth == 0) {
                return Token.END;
            }
            begun = true;
            return token(here ? parser.currentToken() : parser.nextToken());
        } catch (JacksonException e) {
            throw malformed(e, parser);
        }
    }

    private Token token(@Nullable JsonToken token) {
        if (token == null) {
            return Token.END;
        }
        return switch (token) {
            case START_OBJECT -> deeper(Token.OBJECT);
            case START_ARRAY -> deeper(Token.LIST);
            case END_OBJECT -> higher(Token.END_OF_OBJECT);
            case END_ARRAY -> higher(Token.END_OF_LIST);
            case PROPERTY_NAME -> Token.NAME;
            case VALUE_NUMBER_INT, VALUE_NUMBER_FLOAT -> Token.NUMBER;
            case VALUE_TRUE -> Token.TRUE;
            case VALUE_FALSE -> Token.FALSE;
            case VALUE_NULL -> Token.NOTHING;
            default -> Token.TEXT;
        };
    }

    private Token deeper(Token token) {
        depth++;
        return token;
    }

    private Token higher(Token token) {
        depth--;
        return token;
    }

    @Override
    public String text() {
        try {
            return parser.getString();
        } catch (JacksonException e) {
            throw malformed(e, parser);
        }
    }

    @Override
    public int length() {
        try {
            return parser.getStringLength();
        } catch (JacksonException e) {
            throw malformed(e, parser);
        }
    }

    @Override
    public void skip() {
        try {
            parser.skipChildren();
            depth--;
        } catch (JacksonException e) {
            throw malformed(e, parser);
        }
    }

    @Override
    public String place() {
        return place(parser.currentTokenLocation());
    }

    private static String place(TokenStreamLocation location) {
        return "line " + location.getLineNr() + ", column " + location.getColumnNr();
    }

    @Override
    public void close() {
        parser.close();
    }

    static RuntimeException malformed(JacksonException e, @Nullable JsonParser parser) {
        boolean streams = e instanceof JacksonIOException && !(e.getCause() instanceof CharConversionException);
        if (streams) {
            return e;
        }
        String at = parser == null ? "" : ", at " + place(parser.currentLocation());
        return new MalformedJson(e.getOriginalMessage() + at, e);
    }
}
