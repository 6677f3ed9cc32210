package io.bathra.contract;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.deferrable;
import static io.bathra.model.Declare.element;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.secret;
import static io.bathra.model.Declare.unique;
import static io.bathra.model.Declare.within;
import static io.bathra.query.Ask.the;

import io.bathra.attr.Converter;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.util.ArrayList;
import java.util.List;

/** A model full of secrets, and the values that nobody may see. */
final class Agents {
    private Agents() {}

    enum Cover {
        OPEN,
        CLANDESTINE
    }

    record Word(String letters) {
        static Word of(String letters) {
            if (letters.startsWith("HUSH")) {
                throw new IllegalArgumentException("no word: " + letters);
            }
            return new Word(letters);
        }
    }

    record Safe(String room, String code) {}

    static final class Agency {
        String name;
        String seal;

        String name() {
            return name;
        }

        String seal() {
            return seal;
        }
    }

    static final class Agent {
        Long id;
        int version;
        String alias;
        String iban;
        Integer pin;
        Cover cover = Cover.OPEN;
        Word word;
        Safe safe;
        List<String> marks = new ArrayList<>();
        final Link<Agency> agency = Link.empty();

        int version() {
            return version;
        }

        String alias() {
            return alias;
        }

        String iban() {
            return iban;
        }

        Integer pin() {
            return pin;
        }

        Cover cover() {
            return cover;
        }

        Word word() {
            return word;
        }

        Safe safe() {
            return safe;
        }

        List<String> marks() {
            return marks;
        }

        Link<Agency> agency() {
            return agency;
        }
    }

    static final String IBAN = "DE4711SECRETIBAN";
    static final int PIN = 48151623;
    static final String SEAL = "SEALEDORDERS";
    static final String ROOM_CODE = "OPENSESAME";
    static final String MARK = "SCARLETMARK";
    static final String HUSH = "HUSHWORD";
    static final List<String> SECRETS = List.of(IBAN, "" + PIN, SEAL, ROOM_CODE, MARK, HUSH, "CLANDESTINE");

    static final Model MODEL = Model.of(
            "agency",
            Entity.of(Agency.class, Agency::new)
                    .key(Agency::name, assigned())
                    .column(Agency::seal, unique(), secret(), length(20)),
            Entity.of(Agent.class, Agent::new)
                    .version(Agent::version)
                    .column(Agent::alias, required(), unique(), length(20))
                    .column(Agent::iban, unique(), secret(), length(20), deferrable())
                    .column(Agent::pin, secret())
                    .column(Agent::cover, secret(), required())
                    .column(Agent::word, Converter.to(String.class, Word::letters, Word::of), secret(), length(20))
                    .inline(Agent::safe, within(Safe::code, secret(), length(12)))
                    .parts(Agent::marks, element(secret(), length(12)))
                    .link(Agent::agency)
                    .check("pin_is_long", the(Agent::pin).above(999)));
}
