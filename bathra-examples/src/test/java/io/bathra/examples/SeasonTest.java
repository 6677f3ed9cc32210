package io.bathra.examples;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.examples.harbour.BadLineException;
import io.bathra.examples.harbour.Berth;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Objects;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The demo data: what it holds, and what is said of a file that is wrong. */
class SeasonTest {
    private static final List<String> FILES =
            List.of("operators", "vessels", "berths", "pilots", "port_calls", "movements", "certificates", "licences");

    @TempDir
    private Path folder;

    @BeforeEach
    void copyFiles() throws IOException {
        for (String file : FILES) {
            try (InputStream in = Harbour.class.getResourceAsStream(file + ".csv")) {
                Files.copy(Objects.requireNonNull(in), folder.resolve(file + ".csv"));
            }
        }
    }

    @Test
    void theShippedSeasonIsWholeAndHasAwkwardValues() {
        Season season = Season.shipped();
        assertThat(season.calls()).hasSize(400);
        assertThat(season.movements()).hasSizeBetween(1_100, 1_300);
        assertThat(season.vessels())
                .extracting(Vessel::name)
                .anyMatch(name -> name.contains("\""))
                .anyMatch(name -> name.contains("É"));
        assertThat(season.vessels()).anyMatch(vessel -> vessel.operator().isEmpty());
        assertThat(season.calls())
                .extracting(PortCall::remark)
                .anyMatch(remark -> remark != null && remark.contains("\n"));
        assertThat(season.berths())
                .anyMatch(berth -> berth.within()
                        .find()
                        .filter(outer -> !outer.within().isEmpty())
                        .isPresent());
        assertThat(season.lines(Berth.class)).isEqualTo(season.berths().size());
    }

    @Test
    void aSeasonIsTheSameWhenItIsReadBack() {
        Season season = Season.in(folder);
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:season")) {
            store.schema().createMissing();
            store.run(work -> season.calls().forEach(work::add));
            store.run(work -> {
                List<PortCall> read = work.from(PortCall.class)
                        .alongWith(PortCall::vessel, PortCall::berth)
                        .list();
                assertThat(read)
                        .extracting(SeasonTest::line)
                        .containsExactlyElementsOf(
                                season.calls().stream().map(SeasonTest::line).toList());
            });
        }
    }

    private static String line(PortCall call) {
        return String.join(
                "|",
                call.number(),
                call.eta().toString(),
                String.valueOf(call.etd()),
                call.status().name(),
                String.valueOf(call.remark()),
                call.vessel().get().toString(),
                call.berth().find().map(Berth::code).orElse(""));
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            port_calls | 2026-0003,9338369,N1,2026-04-31T08:40,,DEPARTED, | eta '2026-04-31T08:40' is not a date and time such as
            port_calls | 2026-0003,9999999,N1,2026-04-30T08:40,,DEPARTED, | vessel '9999999' is not in vessels.csv
            port_calls | 2026-0001,9338369,N1,2026-04-30T08:40,,DEPARTED, | number '2026-0001' stands in an earlier line already
            port_calls | 2026-0003,9338369,N1,2026-04-30T08:40,,LOST,     | status 'LOST' is not one of [EXPECTED, ALONGSIDE, DEPARTED, CANCELLED]
            vessels    | 9000001,,,,,,,                                   | name is empty, but every line needs one
            vessels    | 9000001,Tern,,12m,,,,                            | length_metres '12m' is not a decimal number such as 12.5
            pilots     | P99,Kari                                         | it has 2 values, but should have 4
            """)
    void aBadLineIsNamed(String file, String line, String reason) throws IOException {
        Path csv = folder.resolve(file + ".csv");
        long number = Files.readString(csv).lines().count() + 1;
        Files.writeString(csv, Files.readString(csv) + line + "\n");
        assertThatThrownBy(() -> Season.in(folder))
                .isInstanceOf(BadLineException.class)
                .hasMessageStartingWith(file + ".csv, line " + number + ": " + reason);
    }

    @Test
    void aMissingFileAndAForeignHeaderAreNamed() throws IOException {
        Files.writeString(folder.resolve("berths.csv"), "code,title\nN,Nordkai\n");
        assertThatThrownBy(() -> Season.in(folder))
                .hasMessage("berths.csv, line 1: the columns are [code, title], but should be [code, name,"
                        + " max_draught_metres, within]");
        Files.delete(folder.resolve("operators.csv"));
        assertThatThrownBy(() -> Season.in(folder)).hasMessageStartingWith("operators.csv: there is no such file in");
    }
}
