package io.bathra.cli.session;

import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import jdk.jshell.Diag;

/** What the compiler says of an entry, in a line or two; reworded where it speaks of what nobody has written. */
final class CompilerWords {
    private static final Pattern HIDDEN =
            Pattern.compile("(\\S+) is not public in (\\S+); cannot be accessed from outside package");
    private static final Pattern PRIVATE = Pattern.compile("(\\S+) has (private|protected) access in (\\S+)");
    private static final Pattern SYMBOL = Pattern.compile("symbol:\\s+(\\w+) (\\S.*)");
    private static final Pattern LOCATION =
            Pattern.compile("location:\\s+(?:variable \\S+ of type|class|interface) (\\S.*)");
    private static final Pattern ROOM = Pattern.compile("\\b(?:[a-z][\\w$]*\\.)+(?=[A-Z])");
    private static final int LONGEST = 240;

    private static final Pattern REFERENCE =
            Pattern.compile("invalid method reference\\s+method (\\w+) in class (\\S+)");

    private final ModelWords model;

    CompilerWords(ModelWords model) {
        this.model = model;
    }

    /** The words for the first error in an entry, and where it is. */
    String of(String entry, List<Diag> all) {
        Diag first = all.stream().filter(Diag::isError).findFirst().orElse(null);
        if (first == null) {
            return "this is no Java that can be executed";
        }
        return message(first.getMessage(Locale.ENGLISH)) + "\n" + place(entry, (int) first.getPosition());
    }

    String message(String told) {
        String text = ROOM.matcher(told).replaceAll("");
        Matcher hidden = HIDDEN.matcher(text);
        if (hidden.find()) {
            return hidden(hidden.group(1), hidden.group(2));
        }
        Matcher secret = PRIVATE.matcher(text);
        if (secret.find()) {
            return secret.group(1) + " of " + secret.group(3) + " is " + secret.group(2) + "; use what is public";
        }
        Matcher reference = REFERENCE.matcher(text);
        if (reference.find()) {
            String type = reference.group(2).substring(reference.group(2).lastIndexOf('.') + 1);
            if (model.hides(type, reference.group(1))) {
                return hidden(reference.group(1) + "()", type);
            }
        }
        Matcher symbol = SYMBOL.matcher(text);
        if (text.startsWith("cannot find symbol") && symbol.find()) {
            Matcher location = LOCATION.matcher(text);
            String missing = symbol.group(1) + " " + symbol.group(2).strip();
            if (missing.startsWith("variable $")) {
                return "there is no " + symbol.group(2).strip()
                        + ": a result is not kept unless it gets a name; say var x = ...";
            }
            String name = symbol.group(2).strip();
            if (model.hidden().contains(name)) {
                return name + " is not public, so that entries cannot name it";
            }
            String owner = location.find() ? location.group(1).strip() : "";
            return owner.isEmpty() || owner.contains("$JShell$")
                    ? "there is no " + missing
                    : owner + " has no " + missing;
        }
        String line = text.replaceAll("\\s*\\R\\s*", " ").strip();
        return line.length() > LONGEST ? line.substring(0, LONGEST - 1) + "…" : line;
    }

    private static String hidden(String what, String of) {
        return what + " of " + of + " is for its own package only, and entries are outside of it; use what is public";
    }

    /** The line of a place, with a mark below it. */
    private static String place(String entry, int position) {
        int at = Math.max(0, Math.min(position, entry.length()));
        int begin = entry.lastIndexOf('\n', at - 1) + 1;
        int end = entry.indexOf('\n', at);
        String line = Cells.safe(entry.substring(begin, end < 0 ? entry.length() : end));
        int column = Cells.width(Cells.safe(entry.substring(begin, at)));
        return "  " + line + "\n  " + " ".repeat(column) + "^";
    }
}
