package io.bathra.harbour;

import io.bathra.link.Link;
import io.bathra.link.Links;
import java.time.LocalDateTime;

public final class PortCall extends Entry<Long> {
    private LocalDateTime eta;
    private CallStatus status = CallStatus.EXPECTED;
    private final Link<Vessel> vessel = Link.empty();
    private final Link<Berth> berth = Link.empty();
    private final Links<Movement> movements = Links.empty();

    PortCall() {}

    public PortCall(Vessel vessel, LocalDateTime eta) {
        this.vessel.set(vessel);
        this.eta = eta;
    }

    public LocalDateTime eta() {
        return eta;
    }

    public void delayTo(LocalDateTime newEta) {
        eta = newEta;
    }

    public CallStatus status() {
        return status;
    }

    public void status(CallStatus newStatus) {
        status = newStatus;
    }

    public Link<Vessel> vessel() {
        return vessel;
    }

    public Link<Berth> berth() {
        return berth;
    }

    public Links<Movement> movements() {
        return movements;
    }
}
