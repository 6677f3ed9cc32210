package io.bathra.cli.session;

import java.util.List;
import org.jline.reader.CompletingParsedLine;
import org.jline.reader.EOFError;
import org.jline.reader.ParsedLine;
import org.jline.reader.Parser;

/** Tells the terminal which word the cursor is in, and whether an entry needs more lines. */
final class EntryParser implements Parser {
    private final JavaEntries java;

    EntryParser(JavaEntries java) {
        this.java = java;
    }

    @Override
    public ParsedLine parse(String line, int cursor, ParseContext context) {
        if (context == ParseContext.ACCEPT_LINE && !line.strip().startsWith(":") && java.isUnfinished(line)) {
            throw new EOFError(-1, -1, "more");
        }
        int begin = Completion.wordBegin(line, cursor);
        return new Word(line, cursor, line.substring(begin, cursor));
    }

    private record Word(String line, int cursor, String word) implements CompletingParsedLine {
        @Override
        public int wordCursor() {
            return word.length();
        }

        /** Nothing is quoted: what is completed is Java, or a name. */
        @Override
        public CharSequence escape(CharSequence candidate, boolean complete) {
            return candidate;
        }

        @Override
        public int rawWordCursor() {
            return word.length();
        }

        @Override
        public int rawWordLength() {
            return word.length();
        }

        @Override
        public int wordIndex() {
            return 0;
        }

        @Override
        public List<String> words() {
            return List.of(word);
        }
    }
}
