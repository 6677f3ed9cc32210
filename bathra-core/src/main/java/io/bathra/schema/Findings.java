package io.bathra.schema;

import io.bathra.model.Difference;
import io.bathra.model.Difference.Kind;
import java.util.ArrayList;
import java.util.List;

/** What a comparison has found so far. */
final class Findings {
    private final List<Difference> all = new ArrayList<>();

    void lacking(String place, String words) {
        all.add(new Difference(place, words, Kind.LACKING));
    }

    void beyond(String place, String words) {
        all.add(new Difference(place, words, Kind.BEYOND));
    }

    void notCompared(String place, String words) {
        all.add(new Difference(place, "not compared: " + words, Kind.NOT_COMPARED));
    }

    List<Difference> list() {
        return List.copyOf(all);
    }
}
