package io.bathra.examples.guide;

import static io.bathra.Terms.retrying;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.examples.harbour.CallStatus;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Vessel;
import java.time.Duration;
import java.time.LocalDateTime;
import java.util.List;

/** Where port calls are announced and delayed: a small service with tests of its own. */
public final class CallDesk {
    private final Store store;

    public CallDesk(Store store) {
        this.store = store;
    }

    /** Announces a call of a vessel that may be new. */
    public void announce(String number, String imo, String name, LocalDateTime eta) {
        store.run(retrying(3), work -> {
            Vessel vessel = work.from(Vessel.class)
                    .where(the(Vessel::imo).is(imo))
                    .first()
                    .orElseGet(() -> new Vessel(imo, name));
            work.add(new PortCall(number, vessel, eta));
        });
    }

    /** Delays all calls of a day that are still expected; tells the names of their vessels. */
    public List<String> delay(LocalDateTime day, Duration by) {
        return store.call(work -> {
            List<PortCall> calls = work.from(PortCall.class)
                    .where(the(PortCall::eta).between(day, day.plusDays(1)))
                    .where(the(PortCall::status).is(CallStatus.EXPECTED))
                    .orderBy(the(PortCall::eta).ascending())
                    .list();
            calls.forEach(call -> call.delayTo(call.eta().plus(by)));
            return calls.stream().map(call -> call.vessel().get().name()).toList();
        });
    }
}
