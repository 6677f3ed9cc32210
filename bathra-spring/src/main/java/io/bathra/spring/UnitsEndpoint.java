package io.bathra.spring;

import io.bathra.spring.OpenUnits.OpenUnit;
import java.util.List;
import java.util.Map;
import org.springframework.boot.actuate.endpoint.annotation.Endpoint;
import org.springframework.boot.actuate.endpoint.annotation.ReadOperation;

/** What the open units of work are, under {@code /actuator/bathra}. */
@Endpoint(id = "bathra")
public final class UnitsEndpoint {
    private final StoreState state;
    private final OpenUnits units;

    UnitsEndpoint(StoreState state, OpenUnits units) {
        this.state = state;
        this.units = units;
    }

    /**
     * What the endpoint answers with.
     *
     * @param store the model and the database
     * @param open the units that are open, the oldest first
     */
    public record Answer(Map<String, Object> store, List<OpenUnit> open) {}

    /** {@return the units that are open now} */
    @ReadOperation
    public Answer units() {
        return new Answer(state.what(), units.list());
    }
}
