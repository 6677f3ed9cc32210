package io.bathra.examples.guide;

import io.bathra.Store;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.Problem;
import io.bathra.error.UniqueViolation;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Vessel;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** An import line by line: each line is a piece of work of its own, and one that fails leaves no trace. */
public final class Importing {
    private Importing() {}

    public static void main(String[] args) {
        List<String> lines = List.of(
                "9074729;Nordlicht",
                "9321483;Lunahav",
                "93214834;Strandvarde",
                "9074729;Nordlicht again",
                "9456783;",
                "9501239;Kittiwake",
                "9612337;Seeadler");
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:importing")) {
            store.schema().createMissing();
            store.run(work -> work.add(new Vessel("9501239", "Kittiwake")));

            Map<String, String> failed = new LinkedHashMap<>();
            store.run(work -> {
                for (String line : lines) {
                    String[] values = line.split(";", -1);
                    try {
                        work.run(inner -> inner.add(new Vessel(values[0], values[1].isEmpty() ? null : values[1])));
                    } catch (InvalidChangesException refused) {
                        Problem first = refused.problems().get(0);
                        failed.put(line, first.attribute() + " " + first.reason());
                    } catch (UniqueViolation taken) {
                        failed.put(line, "imo " + values[0] + " was stored before this import");
                    }
                }
            });
            failed.forEach((line, reason) -> System.out.println(line + ": " + reason));
            System.out.println((lines.size() - failed.size()) + " stored, " + failed.size() + " failed");
        }
    }
}
