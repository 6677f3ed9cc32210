package io.bathra.json;

import io.bathra.json.format.JsonSource;
import io.bathra.json.format.JsonSource.Token;
import io.bathra.json.format.MalformedJson;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashSet;
import java.util.Set;

/** Writes the value that begins with a token as compact JSON again, for a column that keeps JSON. */
final class RawJson {
    private static final int DEEPEST = 100;

    private final JsonSource source;
    private final StringBuilder text = new StringBuilder();

    /** The names of each object around, so that none is there twice; of a list, none. */
    private final Deque<Set<String>> around = new ArrayDeque<>();

    private RawJson(JsonSource source) {
        this.source = source;
    }

    static String of(JsonSource source, Token first) {
        RawJson raw = new RawJson(source);
        raw.copy(first);
        return raw.text.toString();
    }

    private void copy(Token first) {
        Token token = first;
        boolean comma = false;
        while (true) {
            boolean end = token == Token.END_OF_OBJECT || token == Token.END_OF_LIST;
            if (comma && !end) {
                text.append(',');
            }
            switch (token) {
                case OBJECT, LIST -> begin(token);
                case END_OF_OBJECT, END_OF_LIST -> {
                    around.pop();
                    text.append(token == Token.END_OF_OBJECT ? '}' : ']');
                }
                case NAME -> name(source.text());
                case TEXT -> quoted(source.text());
                case NUMBER -> text.append(source.text());
                case TRUE -> text.append("true");
                case FALSE -> text.append("false");
                case NOTHING -> text.append("null");
                default -> throw new MalformedJson("the text ends too early, at " + source.place(), null);
            }
            if (around.isEmpty()) {
                return;
            }
            comma = token != Token.OBJECT && token != Token.LIST && token != Token.NAME;
            token = source.next();
        }
    }

    private void begin(Token token) {
        if (around.size() >= DEEPEST) {
            throw new MalformedJson("the text nests deeper than " + DEEPEST + ", at " + source.place(), null);
        }
        around.push(new HashSet<>());
        text.append(token == Token.OBJECT ? '{' : '[');
    }

    private void name(String name) {
        if (!around.element().add(name)) {
            throw new MalformedJson("a name is there twice, at " + source.place(), null);
        }
        quoted(name);
        text.append(':');
    }

    private void quoted(String value) {
        text.append('"');
        for (int i = 0; i < value.length(); i++) {
            char one = value.charAt(i);
            if (one == '"' || one == '\\') {
                text.append('\\').append(one);
            } else if (one < ' ') {
                text.append("\\u00").append(Character.forDigit(one >> 4, 16)).append(Character.forDigit(one & 15, 16));
            } else {
                text.append(one);
            }
        }
        text.append('"');
    }
}
