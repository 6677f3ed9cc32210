package io.bathra.page;

/** HTML under construction. Whatever is no markup of our own comes in by {@link #text}. */
final class Markup {
    private final StringBuilder html = new StringBuilder(1 << 16);

    /** Markup of our own, which holds nothing that anybody else has said. */
    Markup raw(String markup) {
        html.append(markup);
        return this;
    }

    Markup raw(long number) {
        html.append(number);
        return this;
    }

    /** A text of anybody's. What would not be seen, or would turn the rest round, is shown by its number. */
    Markup text(String text) {
        for (int i = 0; i < text.length(); i++) {
            char one = text.charAt(i);
            switch (one) {
                case '<' -> html.append("&lt;");
                case '>' -> html.append("&gt;");
                case '&' -> html.append("&amp;");
                case '"' -> html.append("&quot;");
                case '\'' -> html.append("&#39;");
                case '\n', '\t' -> html.append(one);
                default -> {
                    if (isUnseen(one)) {
                        html.append(String.format("<b class=\"unseen\">\\u%04X</b>", (int) one));
                    } else {
                        html.append(one);
                    }
                }
            }
        }
        return this;
    }

    /** A text inside of an attribute's quotes. */
    Markup quoted(String text) {
        for (int i = 0; i < text.length(); i++) {
            char one = text.charAt(i);
            if (isUnseen(one)) {
                html.append(String.format("\\u%04X", (int) one));
            } else if (one == '<' || one == '>' || one == '&' || one == '"' || one == '\'') {
                html.append("&#").append((int) one).append(';');
            } else {
                html.append(one);
            }
        }
        return this;
    }

    /** Control characters, and those that change the direction of what follows them, or join what is apart. */
    static boolean isUnseen(char one) {
        boolean control = Character.isISOControl(one) && one != '\n' && one != '\t';
        return control
                || (one >= '\u202a' && one <= '\u202e')
                || (one >= '\u2066' && one <= '\u2069')
                || (one >= '\u200b' && one <= '\u200f')
                || one == '\u061c'
                || one == '\ufeff';
    }

    /** A string of JSON that may stand in a script element. */
    Markup json(String text) {
        html.append('"');
        for (int i = 0; i < text.length(); i++) {
            char one = text.charAt(i);
            if (one == '"' || one == '\\') {
                html.append('\\').append(one);
            } else if (one < ' '
                    || one == '<'
                    || one == '>'
                    || one == '&'
                    || isUnseen(one)
                    || one == '\u2028'
                    || one == '\u2029') {
                html.append(String.format("\\u%04x", (int) one));
            } else {
                html.append(one);
            }
        }
        html.append('"');
        return this;
    }

    @Override
    public String toString() {
        return html.toString();
    }
}
