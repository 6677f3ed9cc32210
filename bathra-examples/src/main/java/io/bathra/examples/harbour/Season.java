package io.bathra.examples.harbour;

import io.bathra.UnitOfWork;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** One season of the harbour office as an object graph, read from CSV files. */
public final class Season {
    private static final String DATE_TIME = "a date and time such as 2026-04-01T06:30";
    private static final String DATE = "a date such as 2026-04-01";
    private static final String DECIMAL = "a decimal number such as 12.5";

    private final Map<String, Operator> operators = new LinkedHashMap<>();
    private final Map<String, Vessel> vessels = new LinkedHashMap<>();
    private final Map<String, Berth> berths = new LinkedHashMap<>();
    private final Map<String, Pilot> pilots = new LinkedHashMap<>();
    private final Map<String, PortCall> calls = new LinkedHashMap<>();
    private final List<Movement> movements = new ArrayList<>();
    private final List<Licence> licences = new ArrayList<>();
    /** How many lines each file has, by entity. */
    private final Map<Class<?>, Integer> lines = new LinkedHashMap<>();

    private Season() {}

    /** The season that comes with the examples. */
    public static Season shipped() {
        return read(null);
    }

    /**
     * A season from files of one's own.
     *
     * @throws BadLineException at the first line that cannot be understood
     */
    public static Season in(Path folder) {
        return read(folder);
    }

    private static Season read(@Nullable Path folder) {
        Season season = new Season();
        season.readOperators(folder);
        season.readVessels(folder);
        season.readBerths(folder);
        season.readPilots(folder);
        season.readCalls(folder);
        season.readMovements(folder);
        season.readCertificates(folder);
        season.readLicences(folder);
        return season;
    }

    private void readOperators(@Nullable Path folder) {
        CsvTable table = new CsvTable("operators.csv", "code", "name", "country");
        lines.put(Operator.class, table.read(folder, line -> {
            Operator operator = new Operator(line.text("code"), line.text("name"));
            operator.moveTo(line.optional("country"));
            line.keep(operators, "code", operator);
        }));
    }

    private void readVessels(@Nullable Path folder) {
        CsvTable table = new CsvTable(
                "vessels.csv",
                "imo",
                "name",
                "call_sign",
                "length_metres",
                "beam_metres",
                "draught_metres",
                "built",
                "operator");
        lines.put(Vessel.class, table.read(folder, line -> {
            Vessel vessel = new Vessel(line.text("imo"), line.text("name"));
            vessel.register(
                    line.optional("call_sign"),
                    new Dimensions(
                            line.optional("length_metres", BigDecimal::new, DECIMAL),
                            line.optional("beam_metres", BigDecimal::new, DECIMAL),
                            line.optional("draught_metres", BigDecimal::new, DECIMAL)),
                    line.optional("built", Integer::valueOf, "a year"));
            if (line.optional("operator") != null) {
                vessel.operator().set(line.known("operator", operators, "operators.csv"));
            }
            line.keep(vessels, "imo", vessel);
        }));
    }

    /** A stretch may stand before the berth that it lies within, so they are connected at the end. */
    private void readBerths(@Nullable Path folder) {
        CsvTable table = new CsvTable("berths.csv", "code", "name", "max_draught_metres", "within");
        List<Runnable> connections = new ArrayList<>();
        lines.put(Berth.class, table.read(folder, line -> {
            Berth berth = new Berth(
                    line.text("code"),
                    line.text("name"),
                    line.optional("max_draught_metres", BigDecimal::new, DECIMAL));
            line.keep(berths, "code", berth);
            if (line.optional("within") != null) {
                connections.add(() -> berth.within().set(line.known("within", berths, "berths.csv")));
            }
        }));
        connections.forEach(Runnable::run);
    }

    private void readPilots(@Nullable Path folder) {
        CsvTable table = new CsvTable("pilots.csv", "badge", "name", "grade", "phone");
        lines.put(
                Pilot.class,
                table.read(
                        folder,
                        line -> line.keep(
                                pilots,
                                "badge",
                                new Pilot(
                                        line.text("badge"),
                                        line.text("name"),
                                        line.constant("grade", Grade.class),
                                        line.optional("phone")))));
    }

    private void readCalls(@Nullable Path folder) {
        CsvTable table = new CsvTable("port_calls.csv", "number", "vessel", "berth", "eta", "etd", "status", "remark");
        lines.put(PortCall.class, table.read(folder, line -> {
            PortCall call = new PortCall(
                    line.text("number"),
                    line.known("vessel", vessels, "vessels.csv"),
                    line.value("eta", LocalDateTime::parse, DATE_TIME));
            call.plan(
                    line.optional("etd", LocalDateTime::parse, DATE_TIME),
                    line.constant("status", CallStatus.class),
                    line.optional("remark"));
            if (line.optional("berth") != null) {
                call.berth().set(line.known("berth", berths, "berths.csv"));
            }
            line.keep(calls, "number", call);
        }));
    }

    private void readMovements(@Nullable Path folder) {
        CsvTable table = new CsvTable("movements.csv", "call", "kind", "at", "pilot");
        lines.put(Movement.class, table.read(folder, line -> {
            Movement movement = new Movement(
                    line.constant("kind", MovementKind.class), line.value("at", LocalDateTime::parse, DATE_TIME));
            movement.call().set(line.known("call", calls, "port_calls.csv"));
            if (line.optional("pilot") != null) {
                Pilot pilot = line.known("pilot", pilots, "pilots.csv");
                movement.pilot().set(pilot);
                movement.call().get().pilots().add(pilot);
            }
            movements.add(movement);
        }));
    }

    private void readCertificates(@Nullable Path folder) {
        CsvTable table = new CsvTable("certificates.csv", "vessel", "kind", "number", "until");
        lines.put(
                Certificate.class,
                table.read(
                        folder,
                        line -> line.known("vessel", vessels, "vessels.csv")
                                .certificates()
                                .add(new Certificate(
                                        line.constant("kind", CertificateKind.class),
                                        line.text("number"),
                                        line.optional("until", LocalDate::parse, DATE)))));
    }

    private void readLicences(@Nullable Path folder) {
        CsvTable table = new CsvTable("licences.csv", "pilot", "berth", "until");
        lines.put(
                Licence.class,
                table.read(
                        folder,
                        line -> licences.add(new Licence(
                                line.known("pilot", pilots, "pilots.csv"),
                                line.known("berth", berths, "berths.csv"),
                                line.value("until", LocalDate::parse, DATE)))));
    }

    /** Adds all of it, to be stored. */
    public void addTo(UnitOfWork work) {
        operators().forEach(work::add);
        vessels().forEach(work::add);
        berths().forEach(work::add);
        pilots().forEach(work::add);
        calls().forEach(work::add);
        movements().forEach(work::add);
        licences().forEach(work::add);
    }

    public Collection<Operator> operators() {
        return operators.values();
    }

    public Collection<Vessel> vessels() {
        return vessels.values();
    }

    public Collection<Berth> berths() {
        return berths.values();
    }

    public Collection<Pilot> pilots() {
        return pilots.values();
    }

    public Collection<PortCall> calls() {
        return calls.values();
    }

    public Collection<Movement> movements() {
        return movements;
    }

    public Collection<Licence> licences() {
        return licences;
    }

    /** How many lines the file of an entity has, its header not counted. */
    public int lines(Class<?> entity) {
        return lines.getOrDefault(entity, 0);
    }
}
