package io.bathra.bench;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.bathra.model.Model;
import java.io.IOException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import javax.tools.ToolProvider;

/**
 * Builds a model of 200 entities, each of ten columns and a link, and opens a store with it, in a warm VM: with classes
 * that were used before, and with classes that are new, as a program that starts meets them.
 */
final class OpenStore {
    private static final int ENTITIES = 200;
    private static final int ROUNDS = 25;

    private OpenStore() {}

    /**
     * The milliseconds that both take together.
     *
     * @param known whether the classes were used before, by another model
     */
    static double millis(boolean known) throws Exception {
        Path classes = compile();
        try (Server server = Server.start("h2")) {
            double[] times = new double[ROUNDS];
            for (int round = -ROUNDS; round < ROUNDS; round++) {
                times[Math.max(round, 0)] = once(classes, server.source, known);
            }
            return median(times);
        }
    }

    private static double once(Path classes, HikariDataSource source, boolean known) throws Exception {
        try (URLClassLoader loader =
                new URLClassLoader(new URL[] {classes.toUri().toURL()}, OpenStore.class.getClassLoader())) {
            if (known) {
                loader.loadClass("All").getMethod("model").invoke(null);
            }
            long start = System.nanoTime();
            Model model = (Model) loader.loadClass("All").getMethod("model").invoke(null);
            Store store = Store.open(model, source);
            long opened = System.nanoTime();
            store.close();
            return (opened - start) / 1e6;
        }
    }

    private static double median(double[] times) {
        return Arrays.stream(times).sorted().toArray()[times.length / 2];
    }

    private static Path compile() throws IOException {
        Path directory = Files.createTempDirectory("bathra-bench");
        List<String> arguments = new ArrayList<>(List.of("-nowarn", "-d", directory.toString(), "-cp"));
        arguments.add(System.getProperty("java.class.path"));
        StringBuilder all = new StringBuilder("public class All { public static io.bathra.model.Model model() {"
                + " return io.bathra.model.Model.of(\"all\"");
        for (int i = 0; i < ENTITIES; i++) {
            String entity = """
                    public class E%1$d {
                        Long id; String name; String note; int count; double weight; boolean open;
                        java.math.BigDecimal price; java.time.LocalDate day; java.time.LocalDateTime seen; long more;
                        final io.bathra.link.Link<E%2$d> next = io.bathra.link.Link.empty();
                        Long id() { return id; }
                        String name() { return name; }
                        java.math.BigDecimal price() { return price; }
                        java.time.LocalDate day() { return day; }
                        io.bathra.link.Link<E%2$d> next() { return next; }
                        static final class Declared {
                            static io.bathra.model.Entity<E%1$d> entity() {
                                return io.bathra.model.Entity.of(E%1$d.class, E%1$d::new)
                                    .key(E%1$d::id, io.bathra.model.Declare.generated())
                                    .column(E%1$d::name, io.bathra.model.Declare.required(), io.bathra.model.Declare.length(80))
                                    .column(E%1$d::price, io.bathra.model.Declare.digits(10, 2))
                                    .link(E%1$d::next)
                                    .index(E%1$d::day);
                            }
                        }
                    }
                    """.formatted(i, Math.max(0, i - 1));
            Path file = directory.resolve("E" + i + ".java");
            Files.writeString(file, entity);
            arguments.add(file.toString());
            all.append(", E").append(i).append(".Declared.entity()");
        }
        Path file = directory.resolve("All.java");
        Files.writeString(file, all + "); } }");
        arguments.add(file.toString());
        if (ToolProvider.getSystemJavaCompiler().run(null, null, null, arguments.toArray(String[]::new)) != 0) {
            throw new IllegalStateException("the entities cannot be compiled");
        }
        return directory;
    }
}
