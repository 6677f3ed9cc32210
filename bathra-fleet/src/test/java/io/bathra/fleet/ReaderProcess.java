package io.bathra.fleet;

import io.bathra.Position;
import io.bathra.Store;
import io.bathra.Terms;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * A program of its own that looks for a ship on a standby whenever somebody tells it that one was entered, and answers
 * with whether it was seen, in how many microseconds, and where.
 */
final class ReaderProcess {
    private ReaderProcess() {}

    /**
     * @param args the URLs of the primary and of the standby
     */
    public static void main(String[] args) throws IOException {
        AtomicInteger onPrimary = new AtomicInteger();
        Store store = Store.open(Docks.MODEL, Fleet.pool(args[0], 2))
                .readingFrom(Fleet.pool(args[1], 2))
                .heardBy(statement -> {
                    if (statement.purpose().startsWith("on the primary")) {
                        onPrimary.incrementAndGet();
                    }
                    return null;
                });
        BufferedReader asked = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        for (String line = asked.readLine(); line != null; line = asked.readLine()) {
            String[] words = line.split(" ");
            int number = Integer.parseInt(words[0]);
            Terms terms = words.length == 1
                    ? Terms.reading()
                    : Terms.reading().notBefore(Position.parse(words[1]), Duration.ofSeconds(5));
            int before = onPrimary.get();
            long begun = System.nanoTime();
            boolean seen = store.call(
                    terms,
                    work -> work.sql("select count(*) from docking where number = :number")
                                    .with("number", number)
                                    .as(Long.class)
                                    .one()
                            > 0);
            long micros = (System.nanoTime() - begun) / 1_000;
            System.out.println(seen + " " + micros + " " + (onPrimary.get() > before ? "primary" : "standby"));
        }
    }
}
