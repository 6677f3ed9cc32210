package io.bathra.cli;

import io.bathra.error.BathraException;
import io.bathra.examples.harbour.Container;
import io.bathra.examples.harbour.Containers;
import io.bathra.examples.harbour.Dimensions;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Writes files of the harbour office to load. */
@Command(
        name = "sample",
        header = "Writes CSV files to load.",
        description = "Writes CSV files of the made-up harbour office, to try out 'bathra load' with: "
                + "operators, vessels, berths, pilots, port calls with their pilots, and containers in "
                + "any number.",
        mixinStandardHelpOptions = true,
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra sample harbour/",
            "  bathra sample harbour/ --containers 1000000",
            "  bathra sample harbour/ --containers 200000 --bad 50"
        })
final class SampleCommand implements Runnable {
    private static final int CONTAINERS = 1_000;

    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Parameters(paramLabel = "FOLDER", description = "Where the files go; made where it is missing.")
    private Path folder = Path.of("");

    @Option(names = "--containers", paramLabel = "LINES", description = "How many containers: 1000 if left out.")
    private int containers = CONTAINERS;

    @Option(names = "--bad", paramLabel = "LINES", description = "So many containers, scattered, cannot be stored.")
    private int bad;

    @Override
    public void run() {
        if (containers < 0 || containers > Containers.MOST || bad < 0 || bad > containers) {
            throw new ParameterException(
                    spec.commandLine(),
                    "--containers takes 0 to " + Containers.MOST + ", and --bad no more than there are containers");
        }
        Season season = Season.shipped();
        try {
            Files.createDirectories(folder);
            write(
                    "operators.csv",
                    "code,name,country",
                    season.operators().stream(),
                    operator -> Arrays.asList(operator.code(), operator.name(), operator.country()));
            write(
                    "vessels.csv",
                    "imo,name,call_sign,built,length_metres,beam_metres,draught_metres,operator.code",
                    season.vessels().stream(),
                    SampleCommand::values);
            write(
                    "berths.csv",
                    "code,name,max_draught_metres",
                    season.berths().stream(),
                    berth -> Arrays.asList(berth.code(), berth.name(), berth.maxDraughtMetres()));
            write(
                    "pilots.csv",
                    "badge,name,grade,phone",
                    season.pilots().stream(),
                    pilot -> Arrays.asList(pilot.badge(), pilot.name(), pilot.grade(), pilot.phone()));
            write(
                    "port_calls.csv",
                    "number,eta,etd,status,remark,vessel.imo,berth.code,pilots.badge",
                    season.calls().stream(),
                    SampleCommand::values);
            int every = bad == 0 ? Integer.MAX_VALUE : containers / bad;
            int[] line = new int[1];
            write(
                    "containers.csv",
                    "serial,kind,length_feet,gross_kilos,operator.code",
                    Containers.of(List.copyOf(season.operators()), containers),
                    container -> {
                        int number = ++line[0];
                        boolean spoilt = number % every == 0 && number / every <= bad;
                        return spoilt ? spoilt(container, number / every) : values(container);
                    });
        } catch (IOException e) {
            throw new BathraException("files cannot be written to " + folder + ": " + e, e);
        }
    }

    private static List<@Nullable Object> values(Vessel vessel) {
        Dimensions size = vessel.dimensions();
        return Arrays.asList(
                vessel.imo(),
                vessel.name(),
                vessel.callSign(),
                vessel.built(),
                size == null ? null : size.lengthMetres(),
                size == null ? null : size.beamMetres(),
                size == null ? null : size.draughtMetres(),
                vessel.operator().find().map(operator -> operator.code()).orElse(null));
    }

    private static List<@Nullable Object> values(PortCall call) {
        Set<String> pilots = new TreeSet<>();
        call.pilots().forEach(pilot -> pilots.add(pilot.badge()));
        return Arrays.asList(
                call.number(),
                call.eta(),
                call.etd(),
                call.status(),
                call.remark(),
                call.vessel().get().imo(),
                call.berth().find().map(berth -> berth.code()).orElse(null),
                String.join(";", pilots));
    }

    private static List<@Nullable Object> values(Container container) {
        return Arrays.asList(
                container.serial(),
                container.kind(),
                container.lengthFeet(),
                container.grossKilos(),
                container.operator().get().code());
    }

    /** Something is wrong with it, each time something else. */
    private static List<@Nullable Object> spoilt(Container container, int number) {
        List<@Nullable Object> values = values(container);
        switch (number % 5) {
            case 0 -> values.set(0, "BATU0000000"); // taken by the first
            case 1 -> values.set(1, "CRATE");
            case 2 -> values.set(2, "forty");
            case 3 -> values.set(3, -1);
            default -> values.set(4, "???");
        }
        return values;
    }

    private interface Values<T> {
        List<@Nullable Object> of(T row);
    }

    private <T> void write(String name, String header, Stream<T> rows, Values<T> values) throws IOException {
        Path file = folder.resolve(name);
        long lines = 0;
        try (BufferedWriter writer = Files.newBufferedWriter(file, StandardCharsets.UTF_8);
                CSVPrinter printer = new CSVPrinter(
                        writer,
                        CSVFormat.DEFAULT.builder().setRecordSeparator("\n").get())) {
            printer.printRecord(Arrays.stream(header.split(",")).collect(Collectors.toList()));
            for (T row : (Iterable<T>) rows::iterator) {
                printer.printRecord(values.of(row));
                lines++;
            }
        }
        spec.commandLine().getOut().printf(Locale.ROOT, "%s: %,d lines%n", file, lines);
    }
}
