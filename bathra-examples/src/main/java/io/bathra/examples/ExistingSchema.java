package io.bathra.examples;

import static io.bathra.attr.DeleteRule.CASCADE;
import static io.bathra.model.Declare.enforcedBy;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.name;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.sequence;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.attr.Converter;
import io.bathra.attr.Enforcer;
import io.bathra.attr.Naming;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.lang.invoke.MethodHandles;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** Tables that somebody else has made, with names and codes of their own, and no rules that could be changed. */
public final class ExistingSchema {
    /** The schema as it was found. */
    private static final String[] FOUND = {
        "create sequence SEQ_MOORING start with 100 increment by 10",
        "create table T_MOORING (MOOR_NO integer primary key, DESCR varchar(60) not null, ST_CD char(1) not null)",
        "create table T_INSPECTION (INSP_NO integer primary key, MOORNO integer not null references T_MOORING,"
                + " INSPECTOR varchar(40), \"Result\" varchar(200))",
        "create sequence SEQ_INSPECTION start with 500 increment by 10",
        "create view V_OPEN as select MOOR_NO, DESCR from T_MOORING where ST_CD = 'O'",
        "insert into T_MOORING values (7, 'North pier, ring 4', 'O')"
    };

    enum State {
        OPEN("O"),
        BARRED("B");

        private final String code;

        State(String code) {
            this.code = code;
        }

        String code() {
            return code;
        }
    }

    static final class Mooring {
        private @Nullable Integer number;
        private String description = "";
        private State state = State.OPEN;
        private final Links<Inspection> inspections = Links.empty();

        Mooring() {}

        Integer number() {
            return number;
        }

        String description() {
            return description;
        }

        State state() {
            return state;
        }

        void bar() {
            state = State.BARRED;
        }

        Links<Inspection> inspections() {
            return inspections;
        }
    }

    static final class Inspection {
        private @Nullable Integer number;
        private @Nullable String inspector;
        private @Nullable String result;
        private final Link<Mooring> mooring = Link.empty();

        Inspection() {}

        Inspection(String inspector, String result) {
            this.inspector = inspector;
            this.result = result;
        }

        @Nullable
        Integer number() {
            return number;
        }

        @Nullable
        String result() {
            return result;
        }

        Link<Mooring> mooring() {
            return mooring;
        }
    }

    /** A row of a view is only read. */
    static final class OpenMooring {
        private int number;
        private String description = "";

        int number() {
            return number;
        }

        String description() {
            return description;
        }
    }

    static final Naming CAPITALS = name -> Naming.SNAKE_CASE.inSql(name).toUpperCase(Locale.ROOT);

    static final Entity<Mooring> MOORING = Entity.of(Mooring.class, Mooring::new)
            .table("T_MOORING")
            .key(Mooring::number, name("MOOR_NO"), sequence("SEQ_MOORING", 10))
            .column(Mooring::description, name("DESCR"), required(), length(60))
            .column(
                    Mooring::state,
                    Converter.byCode(State.class, String.class, State::code),
                    name("ST_CD"),
                    required(),
                    length(1))
            .links(Mooring::inspections, Inspection::mooring);

    static final Entity<Inspection> INSPECTION = Entity.of(Inspection.class, Inspection::new)
            .table("T_INSPECTION")
            .key(Inspection::number, name("INSP_NO"), sequence("SEQ_INSPECTION", 10))
            .column(Inspection::result, name("Result"), length(200))
            .link(Inspection::mooring, name("MOORNO"), required(), onDelete(CASCADE), enforcedBy(Enforcer.UNIT));

    static final Entity<OpenMooring> OPEN_MOORING = Entity.of(OpenMooring.class, OpenMooring::new)
            .view("V_OPEN")
            .key(OpenMooring::number, name("MOOR_NO"))
            .column(OpenMooring::description, name("DESCR"));

    static final Model MODEL =
            Model.of("moorings", MethodHandles.lookup(), CAPITALS, MOORING, INSPECTION, OPEN_MOORING);

    private ExistingSchema() {}

    public static void main(String[] args) {
        try (Store store = Store.open(MODEL, "jdbc:h2:mem:moorings")) {
            for (String statement : FOUND) {
                store.sql(statement).execute();
            }
            store.schema().verify().forEach(difference -> System.out.println("differs: " + difference));

            store.run(work -> {
                Mooring mooring = work.require(Mooring.class, 7);
                mooring.inspections().add(new Inspection("A. Brandt", "ring is loose"));
                mooring.bar();
                System.out.println(work.plan());
            });
            store.run(work -> {
                System.out.println(work.from(OpenMooring.class).count() + " moorings are open");
                Inspection found = work.from(Inspection.class)
                        .where(the(Inspection::mooring, Mooring::state).is(State.BARRED))
                        .one();
                System.out.println("inspection " + found.number() + ": " + found.result());
                work.remove(
                        found.mooring().get()); // their foreign key has no rule, so the unit deletes the inspections
                System.out.println(work.plan());
            });
        }
    }
}
