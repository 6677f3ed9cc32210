package io.bathra.contract;

import io.bathra.link.Later;
import io.bathra.link.Link;
import io.bathra.link.Links;
import java.util.ArrayList;
import java.util.List;

/** What random work is done on: a crate in a crate, with labels and a neighbour. */
final class Crate {
    Long id;
    String code;
    int weight;
    int revision;
    List<String> seals = new ArrayList<>();
    final Later<String> note = Later.empty();
    final Link<Crate> on = Link.empty();
    final Links<Crate> above = Links.empty();
    final Links<Crate> beside = Links.empty();

    Long id() {
        return id;
    }

    String code() {
        return code;
    }

    int weight() {
        return weight;
    }

    int revision() {
        return revision;
    }

    List<String> seals() {
        return seals;
    }

    Later<String> note() {
        return note;
    }

    Link<Crate> on() {
        return on;
    }

    Links<Crate> above() {
        return above;
    }

    Links<Crate> beside() {
        return beside;
    }

    String describe() {
        return code + " " + weight + " " + note.find().orElse(null) + " " + seals + " on "
                + on.find().map(Crate::code).orElse(null) + " beside " + codes(beside.asList()) + " below "
                + codes(above.asList());
    }

    @Override
    public String toString() {
        return code;
    }

    static List<String> codes(List<Crate> crates) {
        return crates.stream().map(Crate::code).sorted().toList();
    }
}
