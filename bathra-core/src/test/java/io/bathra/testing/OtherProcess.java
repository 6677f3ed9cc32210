package io.bathra.testing;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Stream;

/** A virtual machine of its own, with the class path of the tests. */
public final class OtherProcess {
    private static final int DEFAULT_HEAP = 512;

    private final Process process;
    private final BufferedReader printed;

    private OtherProcess(Process process) {
        this.process = process;
        this.printed = new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    }

    /** Runs the {@code main} of a class. */
    public static OtherProcess run(Class<?> main, String... arguments) throws IOException {
        return within(DEFAULT_HEAP, main, arguments);
    }

    /** Runs the {@code main} of a class with so many megabytes for its objects. */
    public static OtherProcess within(int megabytes, Class<?> main, String... arguments) throws IOException {
        Stream<String> command = Stream.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-Xmx" + megabytes + "m",
                "-XX:+UseSerialGC", // the quickest in a heap as small as this
                "-XX:TieredStopAtLevel=1", // it lives for seconds, so that better code would come too late
                "-cp",
                System.getProperty("java.class.path"),
                main.getName());
        return new OtherProcess(new ProcessBuilder(
                        Stream.concat(command, Arrays.stream(arguments)).toList())
                .redirectErrorStream(true)
                .start());
    }

    /** Waits until it has printed this line. */
    public void await(String line) throws IOException {
        List<String> before = new ArrayList<>();
        for (String next = printed.readLine(); !line.equals(next); next = printed.readLine()) {
            if (next == null) {
                throw new IllegalStateException("ended before it said '" + line + "': " + before);
            }
            before.add(next);
        }
    }

    /** Ends it without a word. */
    public void kill() throws InterruptedException {
        process.destroyForcibly().waitFor();
    }

    /** Waits for the end, and gives what was printed. */
    public List<String> output() throws IOException, InterruptedException {
        List<String> lines = printed.lines().toList();
        if (process.waitFor() != 0) {
            throw new IllegalStateException(String.join("\n", lines));
        }
        return lines;
    }
}
