package io.bathra.cli.session;

import io.bathra.Store;
import io.bathra.cli.session.Entered.End;
import io.bathra.cli.session.SnippetControl.Turn;
import java.net.URISyntaxException;
import java.net.URL;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.function.Function;
import jdk.jshell.DeclarationSnippet;
import jdk.jshell.Diag;
import jdk.jshell.EvalException;
import jdk.jshell.JShell;
import jdk.jshell.MethodSnippet;
import jdk.jshell.Snippet;
import jdk.jshell.Snippet.Status;
import jdk.jshell.SnippetEvent;
import jdk.jshell.SourceCodeAnalysis;
import jdk.jshell.SourceCodeAnalysis.Completeness;
import jdk.jshell.SourceCodeAnalysis.CompletionInfo;
import jdk.jshell.TypeDeclSnippet;
import jdk.jshell.VarSnippet;
import jdk.jshell.spi.ExecutionControl;
import jdk.jshell.spi.ExecutionControl.ExecutionControlException;
import jdk.jshell.spi.ExecutionControlProvider;
import jdk.jshell.spi.ExecutionEnv;
import org.jspecify.annotations.Nullable;

/** Entries in Java, compiled and executed by the JDK's own shell within this program. Built in the background. */
final class JavaEntries implements AutoCloseable {
    /** What the session gives, and nobody names otherwise. */
    static final Set<String> GIVEN = Set.of("work", "store");

    private static final List<String> ALWAYS = List.of(
            "import java.util.*;",
            "import java.util.function.*;",
            "import java.util.stream.*;",
            "import java.time.*;",
            "import java.math.BigDecimal;",
            "import java.math.BigInteger;",
            "import io.bathra.Store;",
            "import io.bathra.UnitOfWork;",
            "import io.bathra.Terms;",
            "import io.bathra.Standing;",
            "import io.bathra.query.Query;",
            "import io.bathra.query.Condition;",
            "import static io.bathra.query.Ask.*;",
            "import static io.bathra.bulk.On.on;",
            "import static io.bathra.bulk.Overwrite.overwrite;",
            "import static io.bathra.cli.session.Live.*;");

    private final SnippetControl control;
    private final CompilerWords compiler;
    private final CompletableFuture<JShell> building;

    /**
     * @param classPath where the model's classes are, beside those of the library
     */
    JavaEntries(List<Path> classPath, ClassLoader model, ModelWords words) {
        compiler = new CompilerWords(words);
        List<String> imports = words.imports();
        control = new SnippetControl(new SnippetLoader(model));
        building = CompletableFuture.supplyAsync(() -> build(classPath, imports), task -> {
            Thread thread = new Thread(task, "shell");
            thread.setDaemon(true);
            thread.start();
        });
    }

    private JShell build(List<Path> classPath, List<String> imports) {
        JShell shell = JShell.builder()
                .executionEngine(new Provider(control), Map.of())
                // sources on the class path are of no use, and reading them takes very long
                .compilerOptions("-sourcepath", "nowhere", "-implicit:none", "-proc:none", "-Xlint:none")
                .build();
        Set<Path> all = new LinkedHashSet<>(classPath);
        all.add(placeOf(Store.class));
        all.add(placeOf(Live.class));
        all.forEach(path -> shell.addToClasspath(path.toString()));
        ALWAYS.forEach(shell::eval);
        imports.forEach(shell::eval);
        return shell;
    }

    private record Provider(SnippetControl control) implements ExecutionControlProvider {
        @Override
        public String name() {
            return "bathra";
        }

        @Override
        public ExecutionControl generate(ExecutionEnv environment, Map<String, String> parameters) {
            return control;
        }
    }

    /** The jar or folder of a class. */
    static Path placeOf(Class<?> type) {
        URL place = type.getProtectionDomain().getCodeSource().getLocation();
        try {
            return Path.of(place.toURI());
        } catch (URISyntaxException e) {
            throw new IllegalStateException(place + " is no place of classes", e);
        }
    }

    private JShell shell() {
        try {
            return building.join();
        } catch (CompletionException e) {
            throw e.getCause() instanceof RuntimeException cause ? cause : e;
        }
    }

    /** What understands entries before they are executed. */
    SourceCodeAnalysis analysis() {
        return shell().sourceCodeAnalysis();
    }

    /** Whether a text is not yet at its end, so that more lines have to come. */
    boolean isUnfinished(String text) {
        String rest = text;
        while (!rest.isBlank()) {
            CompletionInfo info = analysis().analyzeCompletion(rest);
            Completeness completeness = info.completeness();
            if (completeness == Completeness.DEFINITELY_INCOMPLETE
                    || completeness == Completeness.CONSIDERED_INCOMPLETE) {
                return true;
            } else if (!completeness.isComplete()) {
                return false; // nonsense does not become sense by more of it
            }
            rest = info.remaining();
        }
        return false;
    }

    /** The entries in a text: statements, expressions and declarations one after the other. */
    List<String> split(String text) {
        List<String> entries = new ArrayList<>();
        String rest = text;
        while (!rest.isBlank()) {
            CompletionInfo info = analysis().analyzeCompletion(rest);
            if (!info.completeness().isComplete() || info.source() == null) {
                entries.add(rest.strip());
                break;
            }
            entries.add(info.source().strip());
            rest = info.remaining();
        }
        return entries;
    }

    /**
     * Compiles and executes one entry.
     *
     * @param showing makes lines of a result, on the thread of the entry
     */
    Entered enter(String entry, Function<@Nullable Object, Printed> showing) {
        JShell shell = shell();
        for (Snippet snippet : analysis().sourceToSnippets(entry)) {
            if (snippet instanceof VarSnippet variable && GIVEN.contains(variable.name())) {
                return Entered.refused(variable.name() + " is given by the session; take another name");
            }
        }
        control.show(showing);
        List<SnippetEvent> events = shell.eval(entry);
        SnippetEvent event = events.stream()
                .filter(one -> one.causeSnippet() == null)
                .findFirst()
                .orElse(null);
        if (event == null) {
            return Entered.done(Printed.NOTHING);
        }
        try {
            return entered(shell, entry, event);
        } finally {
            forget(shell, event);
        }
    }

    /** What has no name cannot be used again, so nothing of it is kept; nor a variable that never got its value. */
    private void forget(JShell shell, SnippetEvent event) {
        Snippet snippet = event.snippet();
        Turn turn = control.turn();
        boolean nameless = !(snippet instanceof DeclarationSnippet)
                || snippet.subKind() == Snippet.SubKind.TEMP_VAR_EXPRESSION_SUBKIND;
        boolean without = snippet instanceof VarSnippet && turn != null && (turn.isStopped() || turn.failure() != null);
        if (((nameless && snippet.kind() != Snippet.Kind.IMPORT) || without)
                && shell.status(snippet).isActive()) {
            shell.drop(snippet);
        }
    }

    private Entered entered(JShell shell, String entry, SnippetEvent event) {
        Snippet snippet = event.snippet();
        Turn turn = control.turn();
        if (event.status() == Status.REJECTED) {
            List<Diag> errors = shell.diagnostics(snippet).toList();
            return Entered.refused(compiler.of(entry, errors));
        }
        if (turn != null && turn.isStopped()) {
            End end = turn.isLeftBehind() ? End.LEFT_BEHIND : turn.isCutOff() ? End.CUT_OFF : End.STOPPED;
            return new Entered(end, Printed.NOTHING, turn.failure(), null);
        }
        Throwable failure = turn == null ? null : turn.failure();
        if (failure != null) {
            return new Entered(
                    End.FAILED,
                    Printed.NOTHING,
                    failure,
                    event.exception() instanceof EvalException told ? Stacks.of(failure, told) : Stacks.of(failure));
        }
        if (event.exception() != null) {
            return Entered.refused(
                    compiler.message(String.valueOf(event.exception().getMessage())));
        }
        return Entered.done(printed(shell, snippet, event.status(), turn == null ? null : turn.printed()));
    }

    private static Printed printed(JShell shell, Snippet snippet, Status status, @Nullable Printed value) {
        if (snippet instanceof VarSnippet variable
                && snippet.subKind() != Snippet.SubKind.TEMP_VAR_EXPRESSION_SUBKIND) {
            String name = variable.name() + " = ";
            if (value == null) {
                return Printed.plain(variable.name() + " of " + variable.typeName() + ", without a value yet");
            }
            return value.lines().size() == 1
                    ? Printed.of(
                            value.lines().get(0).look(),
                            name + value.lines().get(0).text())
                    : Printed.plain(name.strip()).and(value);
        } else if (snippet instanceof MethodSnippet method) {
            return Printed.plain(method.name() + "(" + method.parameterTypes() + ")" + waiting(shell, method, status));
        } else if (snippet instanceof TypeDeclSnippet type) {
            return Printed.plain(type.name() + waiting(shell, type, status));
        } else if (snippet.kind() == Snippet.Kind.EXPRESSION || snippet instanceof VarSnippet) {
            return value == null ? Printed.NOTHING : value;
        }
        return Printed.NOTHING;
    }

    private static String waiting(JShell shell, DeclarationSnippet snippet, Status status) {
        if (status == Status.VALID) {
            return " is there";
        }
        return " is there, but cannot be used before there is "
                + String.join(", ", shell.unresolvedDependencies(snippet).toList());
    }

    /** Whether the latest entry was executed: declarations, and what the compiler refuses, are not. */
    boolean hasExecuted() {
        return control.turn() != null;
    }

    boolean isVariable(String name) {
        return shell().variables().anyMatch(variable -> variable.name().equals(name));
    }

    /** The variables of the session with their values, in the order of their declaration. */
    Map<String, @Nullable Object> variables() {
        Map<String, @Nullable Object> values = new LinkedHashMap<>();
        JShell shell = shell();
        shell.variables().forEach(variable -> {
            shell.varValue(variable);
            values.put(variable.name(), control.variable());
        });
        return values;
    }

    /** Somebody enters something anew. */
    void begin() {
        control.begin();
    }

    /** What was entered and has not begun does not begin any more. Another thread may say so. */
    void tell() {
        control.tell();
    }

    /** Whether somebody has asked that what was entered be stopped. */
    boolean isTold() {
        return control.isTold();
    }

    /** Whether the entry that is being executed comes to its end within a time. Another thread may ask. */
    boolean endsWithin(long millis) {
        return control.endsWithin(millis);
    }

    /** Ends the entry that is being executed. The one call that another thread may make. */
    void stop() {
        try {
            control.stop();
        } catch (ExecutionControlException e) {
            throw new IllegalStateException(e);
        }
    }

    @Override
    public void close() {
        if (building.isDone() && !building.isCompletedExceptionally()) {
            building.join().close();
        }
    }
}
