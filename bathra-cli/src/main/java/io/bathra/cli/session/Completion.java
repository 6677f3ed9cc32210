package io.bathra.cli.session;

import java.lang.reflect.Method;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import jdk.jshell.SourceCodeAnalysis;
import jdk.jshell.SourceCodeAnalysis.Documentation;
import jdk.jshell.SourceCodeAnalysis.Suggestion;

/** What may stand at a place of an entry, the model's own words first. */
final class Completion {
    private static final Pattern METHOD_OF = Pattern.compile("(\\w+)::(\\w*)$");

    /** Calls whose first argument is a class of the model. */
    private static final Pattern TAKES_CLASS = Pattern.compile(
            "\\b(?:from|find|findAll|require|row|bulk|findOrAdd|changeOrAdd|findOrAddAll|beside)\\(\\s*(\\w*)$");

    private static final Pattern ROOM = Pattern.compile("\\b(?:[a-z][\\w$]*\\.)+(?=[A-Z])");

    /** For more than these, signatures would take too long to find, and to read. */
    private static final int MOST_DESCRIBED = 40;

    private static final Set<String> OF_OBJECT =
            Set.of("equals(", "hashCode()", "toString()", "getClass()", "notify()", "notifyAll()", "wait(");

    private final Session session;

    Completion(Session session) {
        this.session = session;
    }

    /**
     * A way to go on.
     *
     * @param value what stands in place of the word at the cursor
     * @param shown how it is listed
     * @param about a signature, or what it is; empty for nothing
     * @param order by which they are listed
     */
    record Way(String value, String shown, String about, int order) {}

    /** Where the word at the cursor begins. */
    static int wordBegin(String text, int cursor) {
        int begin = cursor;
        boolean command = text.stripLeading().startsWith(":");
        while (begin > 0
                && (command
                        ? !Character.isWhitespace(text.charAt(begin - 1))
                        : Character.isJavaIdentifierPart(text.charAt(begin - 1)))) {
            begin--;
        }
        return begin;
    }

    /** The ways to go on at a cursor. */
    List<Way> at(String text, int cursor) {
        String before = text.substring(0, cursor);
        if (before.stripLeading().startsWith(":")) {
            return command(before.stripLeading());
        }
        Matcher methodOf = METHOD_OF.matcher(before);
        if (methodOf.find() && session.words().has(methodOf.group(1))) {
            return methods(methodOf.group(1), methodOf.group(2));
        }
        return java(before);
    }

    // ---- commands

    private List<Way> command(String before) {
        String[] parts = before.substring(1).split("\\s+", 2);
        if (parts.length == 1) {
            return ways(
                    session.commands().all().stream()
                            .filter(one -> one.name().startsWith(parts[0]))
                            .toList(),
                    one -> ":" + one.name(),
                    Command::brief);
        }
        Command command = session.commands().all().stream()
                .filter(one -> one.name().equals(parts[0]))
                .findFirst()
                .orElse(null);
        if (command == null) {
            return List.of();
        } else if (command.name().equals("help")) {
            return ways(session.commands().all(), Command::name, Command::brief);
        } else if (command.name().equals("model")) {
            return ways(session.model().entities(), entity -> entity.name(), entity -> entity.table());
        } else if (command.takesFile()) {
            return files(parts[1]);
        }
        return List.of();
    }

    private interface Text<T> {
        String of(T value);
    }

    private static <T> List<Way> ways(List<T> values, Text<T> value, Text<T> about) {
        List<Way> ways = new ArrayList<>();
        for (T one : values) {
            ways.add(new Way(value.of(one), value.of(one), about.of(one), ways.size()));
        }
        return ways;
    }

    private static List<Way> files(String begun) {
        int slash = begun.lastIndexOf('/');
        String folder = slash < 0 ? "" : begun.substring(0, slash + 1);
        String[] names = Path.of(folder.isEmpty() ? "." : folder).toFile().list();
        if (names == null) {
            return List.of();
        }
        return ways(
                Arrays.stream(names)
                        .filter(name -> (folder + name).startsWith(begun) && !name.startsWith("."))
                        .sorted()
                        .map(name ->
                                folder + name + (Path.of(folder + name).toFile().isDirectory() ? "/" : ""))
                        .toList(),
                name -> name,
                name -> "");
    }

    // ---- Java

    /** A reference to a method, which the JDK's shell completes to nothing. */
    private List<Way> methods(String type, String begun) {
        return ways(
                session.words().accessors(type).stream()
                        .filter(method -> method.getName().startsWith(begun))
                        .toList(),
                Method::getName,
                method -> ROOM.matcher(method.getGenericReturnType().getTypeName())
                        .replaceAll(""));
    }

    private List<Way> java(String before) {
        SourceCodeAnalysis analysis = session.java().analysis();
        int[] anchor = new int[1];
        List<Suggestion> suggestions = analysis.completionSuggestions(before, before.length(), anchor);
        int begin = wordBegin(before, before.length());
        Map<String, Way> ways = new LinkedHashMap<>();
        Matcher takesClass = TAKES_CLASS.matcher(before);
        if (takesClass.find()) {
            String begun = takesClass.group(1);
            session.words().names().stream()
                    .filter(name -> name.startsWith(begun) && isEntity(name))
                    .forEach(name ->
                            ways.put(name + ".class", new Way(name + ".class", name + ".class", "", ways.size())));
        }
        if (!ways.isEmpty()) {
            return List.copyOf(ways.values());
        }
        String kept = anchor[0] > begin ? before.substring(begin, anchor[0]) : "";
        for (Suggestion suggestion : suggestions) {
            String text = suggestion.continuation();
            String value = anchor[0] < begin ? text.substring(Math.min(text.length(), begin - anchor[0])) : kept + text;
            if (isAsked(value, before.substring(begin)) && !value.contains("$")) {
                ways.putIfAbsent(value, new Way(value, value, "", order(suggestion, value)));
            }
        }
        return described(analysis, before.substring(0, begin), List.copyOf(ways.values()));
    }

    private boolean isEntity(String name) {
        return session.model().entities().stream()
                .anyMatch(entity -> entity.name().equals(name));
    }

    /** What every object has is listed only when its name has begun. */
    private static boolean isAsked(String value, String begun) {
        return !begun.isEmpty() || !OF_OBJECT.contains(value);
    }

    /** What fits the place first, then the model's classes and what the session gives, then the rest. */
    private int order(Suggestion suggestion, String value) {
        if (session.words().has(value)
                || JavaEntries.GIVEN.contains(value)
                || session.java().isVariable(value)) {
            return 0;
        }
        return suggestion.matchesType() ? 1 : 2;
    }

    private static List<Way> described(SourceCodeAnalysis analysis, String before, List<Way> ways) {
        if (ways.size() > MOST_DESCRIBED) {
            return ways;
        }
        List<Way> described = new ArrayList<>();
        for (Way way : ways) {
            int paren = way.value().indexOf('(');
            if (paren < 0) {
                described.add(way);
                continue;
            }
            String call = before + way.value().substring(0, paren + 1);
            String name = way.value().substring(0, paren);
            String about = analysis.documentation(call, call.length(), false).stream()
                    .map(Documentation::signature)
                    .map(signature -> signature(name, signature))
                    .distinct()
                    .limit(2)
                    .collect(Collectors.joining("  or  "));
            described.add(new Way(way.value(), name + (way.value().endsWith("()") ? "()" : "("), about, way.order()));
        }
        return described;
    }

    /** Arguments and result alone: the name stands beside it. */
    private static String signature(String name, String told) {
        String text = ROOM.matcher(told).replaceAll("");
        int at = text.indexOf(name + "(");
        if (at < 0) {
            return text;
        }
        String[] before = text.substring(0, at).strip().split("\\s+");
        String result = before[before.length - 1].contains(".") && before.length > 1
                ? before[before.length - 2]
                : before[before.length - 1];
        String arguments = text.substring(at + name.length() + 1, text.lastIndexOf(')'));
        return arguments.isEmpty() ? result : arguments + " -> " + result;
    }
}
