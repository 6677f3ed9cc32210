package io.bathra.jackson2;

import com.fasterxml.jackson.core.JsonLocation;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import io.bathra.json.format.JsonSource;
import io.bathra.json.format.MalformedJson;
import java.io.CharConversionException;
import java.io.IOException;
import java.io.UncheckedIOException;
import org.jspecify.annotations.Nullable;

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
        } catch (IOException e) {
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
            case FIELD_NAME -> Token.NAME;
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
            return parser.getText();
        } catch (IOException e) {
            throw malformed(e, parser);
        }
    }

    @Override
    public int length() {
        try {
            return parser.getTextLength();
        } catch (IOException e) {
            throw malformed(e, parser);
        }
    }

    @Override
    public void skip() {
        try {
            parser.skipChildren();
            depth--;
        } catch (IOException e) {
            throw malformed(e, parser);
        }
    }

    @Override
    public String place() {
        return place(parser.currentTokenLocation());
    }

    private static String place(JsonLocation location) {
        return "line " + location.getLineNr() + ", column " + location.getColumnNr();
    }

    @Override
    public void close() {
        try {
            parser.close();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    static RuntimeException malformed(IOException e, @Nullable JsonParser parser) {
        if (!(e instanceof JsonProcessingException) && !(e instanceof CharConversionException)) {
            return new UncheckedIOException(e);
        }
        String told = e instanceof JsonProcessingException json ? json.getOriginalMessage() : e.getMessage();
        String at = parser == null ? "" : ", at " + place(parser.currentLocation());
        return new MalformedJson(told + at, e);
    }
}
