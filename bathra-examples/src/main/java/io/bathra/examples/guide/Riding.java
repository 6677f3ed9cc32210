package io.bathra.examples.guide;

import static io.bathra.Terms.reading;
import static io.bathra.Terms.retrying;

import io.bathra.Position;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import java.time.Duration;
import java.time.LocalDateTime;

/** Work that rides over servers which come and go. */
public final class Riding {
    private Riding() {}

    public static void main(String[] args) {
        String url = args.length == 0 ? "jdbc:h2:mem:riding" : args[0];
        try (Store store = Store.open(Harbour.MODEL.commitTokens("commit_token"), url)) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> season.calls().forEach(work::add));
            Long id = season.calls().iterator().next().id();

            Terms riding = retrying(10_000).upTo(Duration.ofSeconds(60));
            store.run(riding, work -> {
                PortCall call = work.require(PortCall.class, id);
                call.delayTo(call.eta().plusHours(2));
            });
            LocalDateTime eta = store.call(
                    reading().upToDate(),
                    work -> work.require(PortCall.class, id).eta());
            System.out.println("expected at " + eta);

            LocalDateTime tomorrow = eta.plusDays(1);
            String position = store.call(work -> {
                work.require(PortCall.class, id).delayTo(tomorrow);
                return work.commit().position().map(Position::toString).orElse("");
            });
            Terms after = position.isEmpty()
                    ? reading()
                    : reading().notBefore(Position.parse(position), Duration.ofMillis(500));
            LocalDateTime delayed =
                    store.call(after, work -> work.require(PortCall.class, id).eta());
            System.out.println("delayed to " + delayed);
        }
    }
}
