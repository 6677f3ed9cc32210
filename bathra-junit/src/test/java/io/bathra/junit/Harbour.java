package io.bathra.junit;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;

import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.model.ModelSource;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** A small harbour office. */
public final class Harbour implements ModelSource {
    static final class Vessel {
        @Nullable
        Long id;

        String imo = "";
        String name = "";
        int revision;
        final Links<PortCall> calls = Links.empty();

        Vessel() {}

        Vessel(String imo, String name) {
            this.imo = imo;
            this.name = name;
        }

        String imo() {
            return imo;
        }

        String name() {
            return name;
        }

        int revision() {
            return revision;
        }

        Links<PortCall> calls() {
            return calls;
        }
    }

    static final class PortCall {
        @Nullable
        Long id;

        @Nullable
        Instant noted;

        int berth;
        final Link<Vessel> vessel = Link.empty();

        PortCall() {}

        PortCall(Vessel vessel, int berth) {
            this.vessel.set(vessel);
            this.berth = berth;
        }

        @Nullable
        Instant noted() {
            return noted;
        }

        Link<Vessel> vessel() {
            return vessel;
        }
    }

    static final Model MODEL = Model.of(
            "harbour",
            Entity.of(Vessel.class, Vessel::new)
                    .column(Vessel::imo, required(), length(7), unique())
                    .column(Vessel::name, required(), length(40))
                    .version(Vessel::revision)
                    .links(Vessel::calls, PortCall::vessel),
            Entity.of(PortCall.class, PortCall::new)
                    .stampOnInsert(PortCall::noted)
                    .link(PortCall::vessel, required()));

    @Override
    public Model model() {
        return MODEL;
    }
}
