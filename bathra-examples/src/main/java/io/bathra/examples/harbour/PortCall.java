package io.bathra.examples.harbour;

import io.bathra.link.Link;
import io.bathra.link.Links;
import java.time.LocalDateTime;
import org.jspecify.annotations.Nullable;

/** One visit of a vessel to the harbour. */
public final class PortCall {
    private @Nullable Long id;
    private String number = "";
    private LocalDateTime eta = LocalDateTime.MIN;
    private @Nullable LocalDateTime etd;
    private CallStatus status = CallStatus.EXPECTED;
    private @Nullable String remark;
    private final Link<Vessel> vessel = Link.empty();
    private final Link<Berth> berth = Link.empty();
    private final Links<Movement> movements = Links.empty();
    private final Links<Pilot> pilots = Links.empty();

    PortCall() {}

    public PortCall(String number, Vessel vessel, LocalDateTime eta) {
        this.number = number;
        this.vessel.set(vessel);
        this.eta = eta;
    }

    public @Nullable Long id() {
        return id;
    }

    public String number() {
        return number;
    }

    /** When the vessel is expected to arrive. */
    public LocalDateTime eta() {
        return eta;
    }

    /** When the vessel is expected to leave. */
    public @Nullable LocalDateTime etd() {
        return etd;
    }

    public CallStatus status() {
        return status;
    }

    public @Nullable String remark() {
        return remark;
    }

    public void delayTo(LocalDateTime newEta) {
        eta = newEta;
    }

    public void plan(@Nullable LocalDateTime newEtd, CallStatus newStatus, @Nullable String newRemark) {
        etd = newEtd;
        status = newStatus;
        remark = newRemark;
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

    /** Who has guided the vessel on this visit. */
    public Links<Pilot> pilots() {
        return pilots;
    }

    @Override
    public String toString() {
        return "call " + number;
    }
}
