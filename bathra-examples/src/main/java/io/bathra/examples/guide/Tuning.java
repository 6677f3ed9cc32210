package io.bathra.examples.guide;

import static io.bathra.Terms.reading;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.Wanted;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Operator;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import java.time.LocalDateTime;
import java.util.List;
import java.util.stream.Stream;

/** Less tracking, less reading, bounded memory. */
public final class Tuning {
    record Arrival(LocalDateTime eta, String vessel) {}

    private Tuning() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:tuning")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> season.calls().forEach(work::add));

            List<Arrival> arrivals = store.call(
                    reading(),
                    work -> work.from(PortCall.class)
                            .orderBy(the(PortCall::eta).ascending())
                            .as(Arrival::new, the(PortCall::eta), the(PortCall::vessel, Vessel::name))
                            .list()); // two columns, no entities
            System.out.println(arrivals.size() + " arrivals");

            Long vesselId = store.call(
                    work -> work.from(Vessel.class).limit(1).list().get(0).id());
            Long operatorId = store.call(
                    work -> work.from(Operator.class).limit(1).list().get(0).id());
            store.run(work -> {
                work.read(Wanted.of(Vessel.class, vesselId), Wanted.of(Operator.class, operatorId)); // one trip
                Operator buyer = work.require(Operator.class, operatorId); // none
                work.require(Vessel.class, vesselId).operator().set(buyer);
            });

            long remarks = store.call(reading(), work -> {
                try (Stream<PortCall> calls = work.from(PortCall.class).untracked().stream()) {
                    return calls.filter(call -> call.remark() != null).count(); // row by row, from a cursor
                }
            });
            System.out.println(remarks + " calls have a remark");

            store.run(work -> {
                for (List<Object> keys : chunks(work.from(PortCall.class).keys(), 100)) {
                    work.findAll(PortCall.class, keys)
                            .forEach(call -> call.delayTo(call.eta().plusMinutes(5)));
                    work.flush();
                    work.forgetAll(); // what is written need not be kept
                }
                System.out.println(work.commit());
            });
        }
    }

    private static List<List<Object>> chunks(List<Object> keys, int size) {
        return Stream.iterate(0, from -> from < keys.size(), from -> from + size)
                .map(from -> keys.subList(from, Math.min(keys.size(), from + size)))
                .toList();
    }
}
