package io.bathra.junit;

import io.bathra.trace.Executed.Kind;
import io.bathra.trace.Repetition;
import io.bathra.trace.TraceLine;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * What a store has executed, over all its units, bulk jobs and threads, in order. Begin, commit and savepoints are no
 * statements; where statements are sent together, each counts. Drawing keys counts, but neither as reading nor as writing.
 */
public final class Statements {
    private static final Pattern WORDS =
            Pattern.compile("\"(?:[^\"]|\"\")*\"|`[^`]*`|'(?:[^']|'')*'|[\\p{L}_][\\p{L}\\p{N}_]*");

    /** What a statement does to rows. */
    enum Deed {
        SELECT,
        INSERT,
        UPDATE,
        DELETE,
        OTHER
    }

    private final List<TraceLine> lines;
    private final Set<String> tables;

    /** @param tables the tables of the model, as they are declared */
    Statements(List<TraceLine> lines, Set<String> tables) {
        this.lines = lines.stream().filter(line -> line.kind() != Kind.MEMORY).toList();
        this.tables = tables;
    }

    /** {@return the statements, in order} */
    public List<TraceLine> list() {
        return lines.stream().filter(line -> line.kind() == Kind.STATEMENT).toList();
    }

    /** {@return how many statements there were} */
    public int count() {
        return list().size();
    }

    /**
     * {@return how often the program waited for the database: for statements, savepoints, commits and rollbacks} What
     * was sent together counts once.
     */
    public int roundTrips() {
        return (int) lines.stream()
                .map(TraceLine::executed)
                .filter(one -> one.kind() != Kind.BEGIN && one.part() == 1)
                .count();
    }

    /** {@return statements of one shape that were executed more than once, each with what would fix it} */
    public List<Repetition> repeated() {
        return Repetition.among(list(), 1);
    }

    int count(Deed deed) {
        return (int) list().stream().filter(line -> deed(line) == deed).count();
    }

    /** {@return the tables of the model that were read or written, as they are declared} */
    public Set<String> tables() {
        return list().stream()
                .flatMap(line -> words(line.sql()).stream())
                .filter(tables::contains)
                .collect(Collectors.toCollection(LinkedHashSet::new));
    }

    private static Set<String> words(String sql) {
        Set<String> words = new LinkedHashSet<>();
        Matcher matcher = WORDS.matcher(sql);
        while (matcher.find()) {
            String word = matcher.group();
            char first = word.charAt(0);
            boolean quoted = first == '"' || first == '`';
            if (first != '\'') {
                words.add(quoted ? word.substring(1, word.length() - 1) : word.toLowerCase(Locale.ROOT));
            }
        }
        return words;
    }

    /** Keys are drawn in as many ways as there are databases. */
    private static Deed deed(TraceLine line) {
        return "keys".equals(line.path()) ? Deed.OTHER : deed(line.sql());
    }

    /** The first word that says what is done decides; a merge does what it does where rows match, or are missing. */
    static Deed deed(String sql) {
        String text = sql.strip().toLowerCase(Locale.ROOT);
        if (text.contains("merge into")) {
            return text.contains("when not matched")
                    ? Deed.INSERT
                    : text.contains("then delete") ? Deed.DELETE : Deed.UPDATE;
        }
        for (String word : words(text)) {
            switch (word) {
                case "insert", "copy" -> {
                    return Deed.INSERT;
                }
                case "update" -> {
                    return text.startsWith("select") ? Deed.SELECT : Deed.UPDATE; // for update
                }
                case "delete" -> {
                    return Deed.DELETE;
                }
                default -> {}
            }
        }
        return text.startsWith("select") || text.startsWith("with") || text.startsWith("values") || text.startsWith("(")
                ? Deed.SELECT
                : Deed.OTHER;
    }

    @Override
    public String toString() {
        return lines.stream().map(TraceLine::toString).collect(Collectors.joining("\n"));
    }
}
