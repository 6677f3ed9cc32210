package io.bathra.contract;

import static io.bathra.model.Declare.element;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.name;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.table;
import static io.bathra.model.Declare.within;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.FlushReport;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.ModelException;
import io.bathra.junit.Faults;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.TraceLine;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Collections that live and die with their owner, in tables whose keys nobody sees. */
@OnEachDatabase
class PartsTest {
    enum Kind {
        CLASS,
        RADIO
    }

    record Issuer(String name, String town) {}

    record Certificate(Kind kind, LocalDate until, Issuer issuer, Link<Agent> agent) {
        Certificate(Kind kind, int day) {
            this(kind, LocalDate.of(2026, 1, day), new Issuer("Register", null), Link.empty());
        }
    }

    record Berth(String quay, int number) {}

    /** Changed in place. */
    static final class Note {
        private String text;

        static Note of(String text) {
            Note note = new Note();
            note.text = text;
            return note;
        }
    }

    static final class Agent {
        private Long id;
        private String name = "agent";
    }

    static final class Tug {
        private Long id;
        private String name = "tug";
        private final List<Certificate> certificates = new ArrayList<>();
        private List<String> crew = new ArrayList<>();
        private final Set<Berth> berths = new LinkedHashSet<>();
        private Set<Kind> kinds = new LinkedHashSet<>();
        private final Map<String, BigDecimal> fees = new HashMap<>();
        private Map<LocalDate, Note> log;
        private int revision;

        List<Certificate> certificates() {
            return certificates;
        }

        List<String> crew() {
            return crew;
        }

        Set<Berth> berths() {
            return berths;
        }

        Set<Kind> kinds() {
            return kinds;
        }

        Map<String, BigDecimal> fees() {
            return fees;
        }

        Map<LocalDate, Note> log() {
            return log;
        }

        int revision() {
            return revision;
        }
    }

    private static final Entity<Tug> PLAIN = Entity.of(Tug.class, Tug::new)
            .parts(Tug::certificates, within(Certificate::until, name("valid until")))
            .parts(Tug::crew, element(length(20), name("sailor")), table("tug crew"))
            .parts(Tug::berths, within(Berth::quay, length(10), required()))
            .parts(Tug::kinds)
            .parts(Tug::fees)
            .parts(Tug::log);
    static final Entity<?>[] ENTITIES = {PLAIN, Entity.of(Agent.class, Agent::new)};

    private final Faults faults;
    private final Store store;
    private Keys keys;

    PartsTest(TestDatabase database) {
        faults = Faults.in(database.empty());
        store = Trips.open(Model.of("tugs", ENTITIES), faults.source());
    }

    static Tug tug() {
        Tug tug = new Tug();
        for (int day = 1; day <= 4; day++) {
            tug.certificates.add(new Certificate(Kind.CLASS, day));
        }
        tug.crew.addAll(List.of("Antje", "Birte", "Antje"));
        tug.berths.addAll(List.of(new Berth("N", 1), new Berth("N", 2)));
        tug.kinds.add(Kind.RADIO);
        tug.fees.putAll(Map.of("tow", new BigDecimal("5.0000"), "wait", new BigDecimal("1.5000")));
        tug.log = new LinkedHashMap<>(Map.of(LocalDate.of(2026, 1, 1), Note.of("launched")));
        return tug;
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
        store.run(work -> work.add(tug()));
        keys = Keys.in(store, "tug");
    }

    private Tug read() {
        return store.call(work -> work.require(Tug.class, keys.of("tug", 1)));
    }

    private static void assertSame(Tug actual, Tug expected) {
        assertThat(actual)
                .usingRecursiveComparison()
                .ignoringFields("id", "revision")
                .ignoringFieldsOfTypes(Link.class)
                .isEqualTo(expected);
    }

    /** Does something to the tug, checks what was written, and that it is read back as it is. */
    private FlushReport change(Consumer<Tug> change) {
        try (UnitOfWork work = store.begin()) {
            Tug tug = work.require(Tug.class, keys.of("tug", 1));
            change.accept(tug);
            FlushReport written = work.commit();
            assertThat(work.standing(tug)).isEqualTo(Standing.CLEAN);
            assertThat(work.commit().total()).as("done once").isEqualTo(rows(0, 0, 0));
            assertSame(read(), tug);
            return written;
        }
    }

    private static FlushReport.Rows rows(int inserted, int updated, int deleted) {
        return new FlushReport.Rows(inserted, updated, deleted);
    }

    @Test
    void theyAreReadWithTheirOwner() {
        assertSame(read(), tug());
        assertThat(store.model().describe()).contains("Tug");
    }

    @Test
    void oneChangedPartIsOneRow() {
        assertThat(change(tug -> tug.certificates.set(1, new Certificate(Kind.RADIO, 2)))
                        .total())
                .isEqualTo(rows(0, 1, 0));
        assertThat(change(tug -> tug.certificates.add(0, new Certificate(Kind.RADIO, 9)))
                        .total())
                .as("in front of all others")
                .isEqualTo(rows(1, 0, 0));
        assertThat(change(tug -> tug.certificates.add(3, new Certificate(Kind.RADIO, 10)))
                        .total())
                .as("between two")
                .isEqualTo(rows(1, 0, 0));
        assertThat(change(tug -> tug.certificates.add(tug.certificates.remove(0)))
                        .total())
                .as("moved to the end")
                .isEqualTo(rows(0, 1, 0));
        assertThat(change(tug -> tug.certificates.remove(2)).total()).isEqualTo(rows(0, 0, 1));
        assertThat(change(tug -> tug.crew.remove("Antje")).total())
                .as("one of two that are equal")
                .isEqualTo(rows(0, 0, 1));
        assertThat(change(tug -> tug.berths.remove(new Berth("N", 1))).of("Tug.berths"))
                .isEqualTo(rows(0, 0, 1));
        assertThat(change(tug -> tug.kinds.add(Kind.CLASS)).of("Tug.kinds")).isEqualTo(rows(1, 0, 0));
        assertThat(change(tug -> {
                            tug.fees.put("tow", BigDecimal.TEN);
                            tug.fees.remove("wait");
                            tug.fees.put("storm", BigDecimal.ONE);
                        })
                        .of("Tug.fees"))
                .isEqualTo(rows(1, 1, 1));
        assertThat(change(tug -> tug.log.values().forEach(note -> note.text += " again"))
                        .total())
                .as("changed in place")
                .isEqualTo(rows(0, 1, 0));
    }

    @Test
    void aCollectionIsReplacedOrTakenAway() {
        assertThat(change(tug -> tug.crew = List.of("Birte", "Clara")).of("Tug.crew"))
                .as("what it has in common stays")
                .isEqualTo(rows(0, 1, 1));
        assertThat(change(tug -> {
                            tug.kinds = Set.of();
                            tug.certificates.clear();
                        })
                        .total())
                .isEqualTo(rows(0, 0, 5));
        store.run(work -> work.require(Tug.class, keys.of("tug", 1)).log = null);
        assertThat(read().log).as("none is the same as an empty one").isEmpty();
        assertThat(TestDatabase.count(faults.source(), "tug_fees")).isEqualTo(2);
        store.run(work -> work.remove(work.require(Tug.class, keys.of("tug", 1))));
        for (String part : List.of("certificates", "berths", "kinds", "fees", "log")) {
            assertThat(TestDatabase.count(faults.source(), "tug_" + part))
                    .as(part + " are gone without trace")
                    .isZero();
        }
        Tug bare = new Tug();
        store.run(work -> work.add(bare));
        List<String> crew = store.call(work -> work.require(Tug.class, bare.id).crew);
        assertThat(crew).isEmpty();
    }

    @Test
    void linksInsidePartsAreFollowed() {
        Agent agent = new Agent();
        store.run(work -> {
            List<Certificate> certificates = work.require(Tug.class, keys.of("tug", 1)).certificates;
            certificates.get(0).agent().set(agent);
            certificates.set(
                    1,
                    new Certificate(Kind.RADIO, LocalDate.of(2026, 2, 1), new Issuer("Other", "Town"), Link.to(agent)));
            assertThat(work.plan().steps())
                    .extracting(Object::toString)
                    .containsExactly(
                            "insert agent (1 row)",
                            "update tug_certificates (1 row)",
                            "update tug_certificates (1 row)");
        });
        try (UnitOfWork work = store.begin()) {
            List<Certificate> certificates = work.require(Tug.class, keys.of("tug", 1)).certificates;
            assertThat(certificates.get(0).agent().key()).isEqualTo(agent.id);
            assertThat(certificates.get(1).agent().get().name).isEqualTo("agent");
            assertThat(certificates.get(0).agent().isRead())
                    .as("for the whole cohort")
                    .isTrue();
            certificates.get(0).agent().clear();
            assertThat(work.commit().total()).isEqualTo(rows(0, 1, 0));
        }
        assertThat(read().certificates.get(0).agent().isEmpty()).isTrue();
    }

    @Test
    void aThousandOwnersAreOneStatementATable() {
        store.run(work -> IntStream.range(0, 999).forEach(i -> work.add(tug())));
        try (UnitOfWork work = store.begin()) {
            List<Tug> tugs = work.from(Tug.class).list();
            assertThat(tugs)
                    .hasSize(1000)
                    .allSatisfy(tug -> assertThat(tug.crew).hasSize(3));
            assertThat(work.trace().statements())
                    .extracting(TraceLine::rows)
                    .containsExactly(1000L, 4000L, 3000L, 2000L, 1000L, 2000L, 1000L);
            assertThat(work.changes()).isEmpty();
            assertThat(work.from(Tug.class).list()).as("nothing is made anew").isEqualTo(tugs);
        }
    }

    @Test
    void whoeverReadsTheOwnerAgainGetsWhatIsThereNow() {
        try (UnitOfWork work = store.begin()) {
            Tug tug = work.require(Tug.class, keys.of("tug", 1));
            work.rollback();
            change(other -> other.crew.add("Dörte"));
            assertThat(work.from(Tug.class).list()).containsExactly(tug);
            assertThat(tug.crew).hasSize(4);
            tug.crew.add("Elke");
            work.rollback();
            change(other -> other.crew.clear());
            tug.crew.add("Frauke");
            assertThat(work.changes()).isNotEmpty();
        }
    }

    @Test
    void anEmptyCollectionThatWasTakenIsNotReplaced() {
        Tug bare = new Tug();
        store.run(work -> work.add(bare));
        store.run(work -> {
            List<String> crew = work.require(Tug.class, bare.id).crew;
            work.from(Tug.class).list();
            crew.add("Imke");
        });
        store.run(work -> assertThat(work.require(Tug.class, bare.id).crew).containsExactly("Imke"));
    }

    @Test
    void afterARollbackTheyAreStillToBeWritten() {
        try (UnitOfWork work = store.begin()) {
            Tug tug = work.require(Tug.class, keys.of("tug", 1));
            tug.certificates.set(0, new Certificate(Kind.RADIO, 30));
            tug.certificates.add(new Certificate(Kind.RADIO, 31));
            tug.berths.clear();
            List<String> plan = InlineTest.steps(work);
            assertThat(work.flush().total()).isEqualTo(rows(1, 1, 2));
            work.rollback();
            assertThat(InlineTest.steps(work)).isEqualTo(plan);
            work.commit();
            assertSame(read(), tug);
        }
    }

    @Test
    void aVersionedOwnerMovesWithItsParts() {
        Store versioned = Trips.open(
                Model.of("tugs", PLAIN.version(Tug::revision), Entity.of(Agent.class, Agent::new)), faults.source());
        versioned.run(work -> {
            Tug tug = work.require(Tug.class, keys.of("tug", 1));
            tug.crew.add("Gesche");
            assertThat(work.flush().of(Tug.class).updated()).isOne();
            assertThat(tug.revision).isOne();
        });
    }

    @Test
    void whatIsKeptInAnotherFormIsInTheCollectionToo() {
        try (UnitOfWork work = store.begin()) {
            Tug tug = work.require(Tug.class, keys.of("tug", 1));
            tug.fees.put("tow", new BigDecimal("7.5"));
            work.commit();
            assertThat(tug.fees.get("tow")).isEqualTo(new BigDecimal("7.5000"));
        }
    }

    @Test
    void whatDoesNotFitIsNamedByItsOwner() {
        try (UnitOfWork work = store.begin()) {
            Tug tug = work.require(Tug.class, keys.of("tug", 1));
            tug.crew.set(1, "a name of more than twenty letters");
            tug.crew.add(null);
            tug.berths.add(new Berth(null, 3));
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining(
                            keys.in("Tug {tug 1}.crew[1].element = a name of more than twenty letters: is 34 long"))
                    .hasMessageContaining(keys.in("Tug {tug 1}.crew[3].element = null: is required; set it"))
                    .hasMessageContaining(keys.in("Tug {tug 1}.berths[2].element.quay = null: is required; set it"));
        }
    }

    static final class Odd {
        private Long id;
        private String words;

        @SuppressWarnings("rawtypes")
        private List raw;

        private final List<String> closed = List.of();
        private Set<Certificate> linked;

        String words() {
            return words;
        }

        @SuppressWarnings("rawtypes")
        List raw() {
            return raw;
        }

        List<String> closed() {
            return closed;
        }

        Set<Certificate> linked() {
            return linked;
        }
    }

    @Test
    void faultsAreListed() {
        assertThatThrownBy(() -> Model.of("odd", Entity.of(Odd.class, Odd::new).parts(Odd::words)))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("Odd.words: is a String, so it holds no parts; make it a List, Set or Map")
                .hasMessageContaining("Odd.raw: is a List, for which there is no column type");
        assertThatThrownBy(() -> Model.of(
                        "odd",
                        Entity.of(Odd.class, Odd::new)
                                .parts(Odd::raw)
                                .parts(Odd::closed)
                                .parts(Odd::linked)))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("Odd.raw: is a List of an unknown type; write its type arguments")
                .hasMessageContaining("Odd.linked.element.agent: is a Link, which cannot be inside");
    }
}
