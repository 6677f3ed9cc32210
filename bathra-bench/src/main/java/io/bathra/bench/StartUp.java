package io.bathra.bench;

import io.bathra.Store;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.io.IOException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.LongSupplier;
import javax.tools.ToolProvider;

/**
 * How long a program with very many tables waits when it starts: until it has seen that no table is missing, and until
 * everything has been compared. The entities are written and compiled here, each with six columns, a link, a unique
 * value and, in every tenth, a check.
 */
public final class StartUp {
    private static final int ROUNDS = 7;

    private StartUp() {}

    /** Takes the name of a database, and the number of tables. */
    public static void main(String[] args) throws IOException, ReflectiveOperationException {
        int count = args.length > 1 ? Integer.parseInt(args[1]) : 1_000;
        Model model = model(count);
        try (Server server = Server.start(args[0]);
                Store store = Store.open(model, server.source)) {
            long created =
                    nanos(() -> store.schema().createMissing().statements().size());
            System.out.printf("%-11s %,d tables created in %,.0f ms%n", args[0], count, created / 1e6);
            print(
                    "nothing is missing",
                    () -> store.schema().createMissing().missing().size());
            print("all is compared", () -> store.schema().verify().size());
        }
        System.exit(0);
    }

    private static void print(String what, LongSupplier work) {
        long[] nanos = new long[ROUNDS];
        for (int i = 0; i < ROUNDS; i++) {
            nanos[i] = nanos(work);
        }
        long first = nanos[0];
        Arrays.sort(nanos);
        System.out.printf(
                "%-11s %-20s first %,6.0f ms, median of %d %,6.0f ms%n",
                "", what, first / 1e6, ROUNDS, nanos[ROUNDS / 2] / 1e6);
    }

    private static long nanos(LongSupplier work) {
        long start = System.nanoTime();
        long found = work.getAsLong();
        long nanos = System.nanoTime() - start;
        if (found < 0) {
            throw new IllegalStateException();
        }
        return nanos;
    }

    private static Model model(int count) throws IOException, ReflectiveOperationException {
        Path folder = Files.createTempDirectory("bathra-start-up");
        List<String> arguments =
                new ArrayList<>(List.of("-d", folder.toString(), "-cp", System.getProperty("java.class.path")));
        for (int i = 0; i < count; i++) {
            Path file = folder.resolve("Berth" + i + ".java");
            Files.writeString(file, source(i));
            arguments.add(file.toString());
        }
        if (ToolProvider.getSystemJavaCompiler().run(null, null, null, arguments.toArray(String[]::new)) != 0) {
            throw new IllegalStateException("the entities do not compile");
        }
        URLClassLoader loader = new URLClassLoader(new URL[] {folder.toUri().toURL()}, StartUp.class.getClassLoader());
        Entity<?>[] entities = new Entity<?>[count];
        for (int i = 0; i < count; i++) {
            entities[i] =
                    (Entity<?>) loader.loadClass("Berth" + i).getField("ENTITY").get(null);
        }
        return Model.of("many tables", entities);
    }

    private static String source(int number) {
        String name = "Berth" + number;
        String link = "Berth" + Math.max(0, number - 1);
        String check = number % 10 == 0 ? ".check(number(" + name + "::metres).above(0))" : "";
        return String.join(
                "\n",
                "import static io.bathra.model.Declare.*;",
                "import static io.bathra.query.Ask.*;",
                "public final class " + name + " {",
                "    private Long id; private String code; private int metres; private long seen;",
                "    private java.time.LocalDate since; private String note;",
                "    private final io.bathra.link.Link<" + link + "> next = io.bathra.link.Link.empty();",
                "    public String code() { return code; }",
                "    public int metres() { return metres; }",
                "    public io.bathra.link.Link<" + link + "> next() { return next; }",
                "    public static final io.bathra.model.Entity<?> ENTITY = io.bathra.model.Entity.of(" + name
                        + ".class, " + name + "::new)",
                "        .column(" + name + "::code, required(), length(12), unique()).link(" + name + "::next)" + check
                        + ";",
                "}");
    }
}
