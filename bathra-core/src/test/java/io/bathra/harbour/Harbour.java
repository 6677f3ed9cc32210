package io.bathra.harbour;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.generated;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;

import io.bathra.model.Entity;
import io.bathra.model.Model;

/** A small harbour office for tests. */
public final class Harbour {
    public static final Entity<Operator> OPERATOR = Entity.of(Operator.class, Operator::new)
            .column(Operator::name, required(), length(80))
            .links(Operator::vessels, Vessel::operator);
    public static final Entity<Vessel> VESSEL = Entity.of(Vessel.class, Vessel::new)
            .key(Vessel::id, generated())
            .column(Vessel::imo, required(), length(7), unique())
            .column(Vessel::name, required(), length(80))
            .column(Vessel::getLengthMetres, digits(6, 2))
            .link(Vessel::operator)
            .links(Vessel::calls, PortCall::vessel);
    public static final Entity<Berth> BERTH = Entity.of(Berth.class, Berth::new)
            .column(Berth::code, required(), length(12))
            .links(Berth::parts, Berth::within);
    public static final Entity<PortCall> PORT_CALL = Entity.of(PortCall.class, PortCall::new)
            .link(PortCall::vessel, required())
            .index(PortCall::eta)
            .links(PortCall::movements, Movement::call);
    public static final Entity<Movement> MOVEMENT =
            Entity.of(Movement.class, Movement::new).link(Movement::call, required());

    public static final Model MODEL = Model.of("harbour", OPERATOR, VESSEL, BERTH, PORT_CALL, MOVEMENT);

    private Harbour() {}
}
