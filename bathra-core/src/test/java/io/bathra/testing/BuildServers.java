package io.bathra.testing;

import io.bathra.testing.ServerKeeper.Product;
import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

/**
 * Servers for all tests of a build, whichever virtual machines run them: whoever needs one first has it started, by a
 * {@link ServerKeeper} that ends with the build.
 */
final class BuildServers {
    private BuildServers() {}

    /** The JDBC URL of a server. */
    static String url(Product product) {
        ProcessHandle build = build();
        String begun =
                build.info().startInstant().map(at -> "-" + at.toEpochMilli()).orElse("");
        Path folder = Path.of(System.getProperty("java.io.tmpdir"), "bathra-servers", build.pid() + begun);
        try {
            Files.createDirectories(folder);
            try (FileChannel channel = FileChannel.open(
                    folder.resolve(product + ".lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE)) {
                channel.lock(); // until it is closed
                Path url = folder.resolve(product + ".url");
                if (!Files.exists(url)) {
                    start(product, build, folder, url);
                }
                return Files.readString(url);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The nearest process around this one that runs Java, as Maven does; this one where there is none. */
    private static ProcessHandle build() {
        Optional<ProcessHandle> around = ProcessHandle.current().parent();
        while (around.isPresent()) {
            if (around.get().info().command().filter(BuildServers::isJava).isPresent()) {
                return around.get();
            }
            around = around.get().parent();
        }
        return ProcessHandle.current();
    }

    private static boolean isJava(String command) {
        return Path.of(command).endsWith("java");
    }

    private static void start(Product product, ProcessHandle build, Path folder, Path url)
            throws IOException, InterruptedException {
        File log = folder.resolve(product + ".log").toFile();
        Process keeper = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-Xmx128m",
                        "-XX:+UseSerialGC",
                        "-XX:TieredStopAtLevel=1",
                        "-cp",
                        System.getProperty("surefire.test.class.path", System.getProperty("java.class.path")),
                        ServerKeeper.class.getName(),
                        product.name(),
                        Long.toString(build.pid()),
                        url.toString())
                .redirectErrorStream(true)
                .redirectOutput(log)
                .start();
        while (!Files.exists(url)) {
            if (keeper.waitFor(50, TimeUnit.MILLISECONDS)) {
                throw new IllegalStateException(product + " did not start:\n" + Files.readString(log.toPath()));
            }
        }
    }
}
