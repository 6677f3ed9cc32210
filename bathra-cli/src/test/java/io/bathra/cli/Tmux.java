package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assumptions.assumeThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.function.Predicate;

/** A real terminal with the tool in it: keys in, the screen out. */
final class Tmux implements AutoCloseable {
    private static final Duration PATIENCE = Duration.ofSeconds(60);

    private final String socket = "bathra-" + UUID.randomUUID();

    /**
     * Starts the tool in a terminal.
     *
     * @param java the home of the JDK that runs it
     * @param environment more of it
     * @param args the command, and what it is given
     */
    Tmux(int width, int height, Path java, Map<String, String> environment, String... args) {
        assumeThat(isThere()).as("tmux is not installed").isTrue();
        List<String> command = new ArrayList<>(List.of("env"));
        environment.forEach((name, value) -> command.add(name + "=" + value));
        command.addAll(List.of(
                java.resolve("bin/java").toString(),
                "-XX:TieredStopAtLevel=1",
                "--enable-native-access=ALL-UNNAMED", // as the script at the root does
                "-cp",
                System.getProperty("surefire.test.class.path", System.getProperty("java.class.path")),
                Bathra.class.getName()));
        command.addAll(List.of(args));
        StringBuilder line = new StringBuilder();
        command.forEach(word ->
                line.append(line.isEmpty() ? "" : " ").append('\'').append(word).append('\''));
        run(
                "-f",
                "/dev/null",
                "new-session",
                "-d",
                "-x",
                "" + width,
                "-y",
                "" + height,
                "trap : INT; " + line + "; echo ENDED $?; sleep 600");
    }

    static boolean isThere() {
        try {
            return new ProcessBuilder("tmux", "-V").start().waitFor() == 0;
        } catch (IOException e) {
            return false;
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    private String run(String... args) {
        List<String> command = new ArrayList<>(List.of("tmux", "-u", "-L", socket));
        command.addAll(List.of(args));
        try {
            Process process =
                    new ProcessBuilder(command).redirectErrorStream(true).start();
            String told = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            assertThat(process.waitFor(10, TimeUnit.SECONDS)).isTrue();
            return told;
        } catch (IOException | InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Types a text, letter by letter. */
    Tmux type(String text) {
        String last = text.endsWith(";") ? text.substring(0, text.length() - 1) + "\\;" : text; // it ends commands
        run("send-keys", "-l", last);
        return this;
    }

    /** Presses keys one after the other: {@code Enter}, {@code Tab}, {@code C-c}. */
    Tmux press(String... keys) {
        for (String key : keys) {
            run("send-keys", key);
        }
        return this;
    }

    /** Presses two keys so fast that the second one is there before the first one is looked at. */
    Tmux pressAtOnce(String first, String second) {
        run("send-keys", first, second);
        return this;
    }

    /** Pastes a text, as somebody does who has copied it. */
    Tmux paste(String text) {
        run("set-buffer", text);
        run("paste-buffer", "-p");
        return this;
    }

    /** Types an entry, and waits for what it brings about. */
    Tmux enter(String entry, String expected) {
        clear();
        return type(entry).press("Enter").await(expected);
    }

    /** Empties the screen up to the prompt, behind which nothing stands yet. */
    Tmux clear() {
        press("C-l");
        return await(
                screen -> screen.strip().lines().count() == 1
                        && screen.stripTrailing().endsWith(">"),
                "an empty screen");
    }

    String screen() {
        return run("capture-pane", "-p", "-J");
    }

    /** The screen with its colours. */
    String colours() {
        return run("capture-pane", "-p", "-e");
    }

    /** Waits until the tool asks for the next entry, and nothing stands there yet. */
    Tmux awaitPrompt() {
        return await(screen -> screen.stripTrailing().endsWith(">"), "a prompt");
    }

    Tmux await(String expected) {
        return await(screen -> screen.contains(expected), expected);
    }

    private Tmux await(Predicate<String> expected, String words) {
        long until = System.nanoTime() + PATIENCE.toNanos();
        while (!expected.test(screen())) {
            if (System.nanoTime() > until) {
                throw new AssertionError("expected: " + words + "\nbut there is:\n" + screen());
            }
            try {
                Thread.sleep(40);
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        }
        return this;
    }

    @Override
    public void close() {
        run("kill-server");
    }
}
