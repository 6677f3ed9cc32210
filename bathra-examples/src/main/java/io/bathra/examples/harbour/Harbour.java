package io.bathra.examples.harbour;

import static io.bathra.attr.DeleteRule.CASCADE;
import static io.bathra.attr.DeleteRule.SET_NULL;
import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.generated;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.orderedBy;
import static io.bathra.model.Declare.prefix;
import static io.bathra.model.Declare.removeOrphans;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.table;
import static io.bathra.model.Declare.unique;
import static io.bathra.model.Declare.within;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.the;

import io.bathra.model.Entity;
import io.bathra.model.Model;

/** The declarations of the harbour office: only what convention cannot know. */
public final class Harbour {
    static final Entity<Operator> OPERATOR = Entity.of(Operator.class, Operator::new)
            .column(Operator::code, required(), length(3), unique())
            .column(Operator::name, required(), length(80))
            .column(Operator::country, length(2))
            .links(Operator::vessels, Vessel::operator);

    static final Entity<Vessel> VESSEL = Entity.of(Vessel.class, Vessel::new)
            .key(Vessel::id, generated())
            .column(Vessel::imo, required(), length(7), unique())
            .column(Vessel::name, required(), length(80))
            .column(Vessel::callSign, length(7))
            .inline(
                    Vessel::dimensions,
                    prefix(""),
                    within(Dimensions::lengthMetres, digits(6, 2)),
                    within(Dimensions::beamMetres, digits(5, 2)),
                    within(Dimensions::draughtMetres, digits(4, 2)))
            .link(Vessel::operator, onDelete(SET_NULL))
            .parts(Vessel::certificates, within(Certificate::number, required(), length(20)))
            .links(Vessel::calls, PortCall::vessel);

    static final Entity<Berth> BERTH = Entity.of(Berth.class, Berth::new)
            .column(Berth::code, required(), length(8), unique())
            .column(Berth::name, required(), length(80))
            .column(Berth::maxDraughtMetres, digits(4, 1))
            .links(Berth::stretches, Berth::within);

    static final Entity<Pilot> PILOT = Entity.of(Pilot.class, Pilot::new)
            .column(Pilot::badge, required(), length(3), unique())
            .column(Pilot::name, required(), length(80))
            .column(Pilot::grade, required())
            .column(Pilot::phone, length(20))
            .links(Pilot::movements, Movement::pilot);

    static final Entity<PortCall> PORT_CALL = Entity.of(PortCall.class, PortCall::new)
            .column(PortCall::number, required(), length(9), unique())
            .column(PortCall::eta, required())
            .column(PortCall::status, required())
            .column(PortCall::remark, length(400))
            .link(PortCall::vessel, required(), onDelete(CASCADE))
            .links(
                    PortCall::movements,
                    Movement::call,
                    removeOrphans(),
                    orderedBy(the(Movement::at).ascending()))
            .pivot(PortCall::pilots, Pilot::calls, table("pilotage"));

    static final Entity<Movement> MOVEMENT = Entity.of(Movement.class, Movement::new)
            .column(Movement::kind, required())
            .column(Movement::at, required())
            .link(Movement::call, required(), onDelete(CASCADE));

    static final Entity<Licence> LICENCE = Entity.of(Licence.class, Licence::new)
            .column(Licence::until, required())
            .link(Licence::pilot, required(), onDelete(CASCADE))
            .link(Licence::berth, required(), onDelete(CASCADE))
            .unique(Licence::pilot, Licence::berth);

    static final Entity<Container> CONTAINER = Entity.of(Container.class, Container::new)
            .column(Container::serial, required(), length(11), unique())
            .column(Container::kind, required())
            .check(number(Container::grossKilos).above(0))
            .link(Container::operator, onDelete(SET_NULL));

    /** The model of the harbour office. */
    public static final Model MODEL =
            Model.of("harbour", OPERATOR, VESSEL, BERTH, PILOT, PORT_CALL, MOVEMENT, LICENCE, CONTAINER);

    private Harbour() {}
}
