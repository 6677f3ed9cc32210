package io.bathra.examples.guide;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.the;

import io.bathra.attr.DeleteRule;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.History.Wish;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;

/** A small office whose model changes from one release to the next. */
public final class Evolving {
    private Evolving() {}

    /** The release that runs today. */
    public static final class Today {
        private Today() {}

        /** Who guides vessels in. */
        public static final class Pilot {
            Long id;
            String badge;
            String phone;

            public Long id() {
                return id;
            }

            public String badge() {
                return badge;
            }

            public String phone() {
                return phone;
            }
        }

        public static final Model MODEL = Model.of(
                "office",
                Entity.of(Pilot.class, Pilot::new)
                        .column(Pilot::badge, required(), length(3), unique())
                        .column(Pilot::phone, length(20)));
    }

    /** The next release. */
    public static final class Next {
        private Next() {}

        /** Who guides vessels in. */
        public static final class Pilot {
            Long id;
            String badge;
            String mobile;
            String country;

            public Long id() {
                return id;
            }

            public String badge() {
                return badge;
            }

            public String mobile() {
                return mobile;
            }

            public String country() {
                return country;
            }
        }

        /** What a hatch is closed with. */
        public static final class Seal {
            Long id;
            int number;
            final Link<Pilot> pilot = Link.empty();

            public Long id() {
                return id;
            }

            public int number() {
                return number;
            }

            public Link<Pilot> pilot() {
                return pilot;
            }
        }

        public static final Model MODEL = Model.of(
                "office",
                Entity.of(Pilot.class, Pilot::new)
                        .column(Pilot::badge, required(), length(3), unique())
                        .column(Pilot::mobile, length(20))
                        .column(Pilot::country, required(), length(2)),
                Entity.of(Seal.class, Seal::new)
                        .link(Seal::pilot, required(), onDelete(DeleteRule.CASCADE))
                        .check(the(Seal::number).above(0)));
    }

    public static void main(String[] args) throws IOException {
        Path folder = Files.createTempDirectory("changes");
        SchemaChanges changes = SchemaChanges.of(folder);
        changes.write(changes.draft("first model", Today.MODEL, Wish.NONE));
        System.out.println(changes.draft("more", Today.MODEL, Wish.NONE).lookedAt());

        Wish wish = new Wish(
                Map.of("Pilot.phone", "mobile"),
                Map.of("Pilot.country", SchemaChanges.fill("Pilot.country", "NO")),
                false);
        changes.draft("seals", Next.MODEL, wish)
                .change()
                .ifPresent(change -> System.out.println(SchemaChanges.text(change)));
        System.out.println(changes.history().leadsTo(Today.MODEL));
    }
}
