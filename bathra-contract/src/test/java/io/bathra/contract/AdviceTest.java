package io.bathra.contract;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.error.StatementException;
import io.bathra.error.UniqueViolation;
import io.bathra.error.UnreadLinkException;
import io.bathra.link.Later;
import io.bathra.link.Link;
import io.bathra.model.Declare;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Condition;
import io.bathra.query.Sql;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** What messages recommend can be done as it stands there. */
@OnEachDatabase
class AdviceTest {
    static final class Radio {
        Long id;
        String callSign;

        String getCallSign() {
            return callSign;
        }
    }

    static final class Rescuer {
        Long id;
        final Link<Radio> radio = Link.empty();
        final Later<String> report = Later.empty();

        Link<Radio> getRadio() {
            return radio;
        }

        Later<String> report() {
            return report;
        }
    }

    private final TestDatabase database;
    private final Store store;

    AdviceTest(TestDatabase database) {
        this.database = database;
        store = Trips.open(
                Model.of(
                        "rescue",
                        Entity.of(Radio.class, Radio::new).column(Radio::getCallSign, Declare.unique()),
                        Entity.of(Rescuer.class, Rescuer::new).link(Rescuer::getRadio)),
                database.empty());
    }

    @AfterEach
    void close() {
        store.close();
    }

    private void fill() {
        store.schema().createMissing();
        store.run(work -> {
            for (int i = 0; i < 150; i++) {
                Rescuer rescuer = new Rescuer();
                Radio radio = new Radio();
                radio.callSign = "RESCUE" + i;
                rescuer.radio.set(radio);
                rescuer.report.set("report " + i);
                work.add(rescuer);
            }
        });
    }

    @Test
    void whatWasNotReadIsReadAlongAsTheMessageSays() {
        fill();
        Rescuer unread = store.call(work -> work.from(Rescuer.class).limit(1).one());
        assertThatThrownBy(() -> unread.radio.get())
                .isInstanceOf(UnreadLinkException.class)
                .hasMessageContaining(".alongWith(Rescuer::getRadio)");
        assertThatThrownBy(() -> unread.report.get()).hasMessageContaining(".alongWith(Rescuer::report)");
        List<Rescuer> read = store.call(work -> {
            List<Rescuer> along = work.from(Rescuer.class)
                    .alongWith(Rescuer::getRadio)
                    .alongWith(Rescuer::report)
                    .list();
            assertThat(work.trace().statements()).hasSize(2);
            return along;
        });
        assertThat(read).hasSize(150).allMatch(one -> one.report.get().startsWith("report ") && one.radio.isRead());
        assertThat(store.<Integer, RuntimeException>call(
                        work -> work.from(Rescuer.class).alongWith(Rescuer::report).untracked().list().stream()
                                .mapToInt(one -> one.report.get().length())
                                .sum()))
                .isPositive();
    }

    @Test
    void whatIsMissingIsNamed() {
        assertThatThrownBy(() -> store.run(work -> work.from(Radio.class).list()))
                .isInstanceOf(StatementException.class)
                .hasMessageContaining("schema().createMissing() makes the tables");
        fill();
        assertThatThrownBy(() -> store.run(work -> {
                    Radio twice = new Radio();
                    twice.callSign = "RESCUE1";
                    work.add(twice);
                }))
                .isInstanceOfSatisfying(
                        UniqueViolation.class,
                        violation -> assertThat(violation.place().attributes()).containsExactly("callSign"))
                .message()
                .doesNotContain("'RESCUE1'");
    }

    private static Radio radio(String callSign) {
        Radio radio = new Radio();
        radio.callSign = callSign;
        return radio;
    }

    @Test
    void theValueThatIsThereAlreadyIsTold() {
        fill();
        Consumer<Consumer<UnitOfWork>> refused = work -> assertThatThrownBy(() -> store.run(work::accept))
                .isInstanceOfSatisfying(
                        UniqueViolation.class,
                        violation -> assertThat(violation.place().value()).isIn("RESCUE7", "RESCUE149"))
                .hasMessageMatching("(?s).*Radio\\.callSign = RESCUE(7|149)( |;).*");
        refused.accept(work -> work.add(radio("RESCUE7")));
        refused.accept(work -> {
            for (int i = 140; i < 160; i++) {
                work.add(radio("NEW" + i));
            }
            work.add(radio("RESCUE7"));
        });
        refused.accept(work -> List.of(radio("RESCUE7"), radio("OTHER")).forEach(work::add));
        refused.accept(work -> work.from(Radio.class).limit(100).list().stream()
                .filter(radio -> !radio.callSign.equals("RESCUE7"))
                .forEach(radio ->
                        radio.callSign = radio.callSign.equals("RESCUE9") ? "RESCUE149" : radio.callSign + "x"));
        refused.accept(work -> work.bulk(Radio.class).insert(List.of(radio("A"), radio("RESCUE7"), radio("B"))));
    }

    record Loud(String callSign) {
        Loud {
            if (callSign.equals("RESCUE3")) {
                throw new AssertionError("no such call sign");
            }
        }
    }

    @Test
    void errorsOfTheJvmAreNoRefusalsOfRows() {
        fill();
        assertThatThrownBy(() ->
                        store.call(work -> work.from(Radio.class).as(Loud.class).list()))
                .isExactlyInstanceOf(AssertionError.class)
                .hasMessage("no such call sign");
    }

    @Test
    void urlsThatLeadNowhereSayWhichThereAre() {
        Model model = store.model();
        assertThatThrownBy(() -> Trips.open(model, "jdbc:other://localhost/harbour"))
                .isInstanceOf(DatabaseUnreachableException.class)
                .hasMessageContaining("jdbc:h2:, jdbc:sqlite:, jdbc:postgresql:, jdbc:mariadb:");
        assertThatThrownBy(() -> Trips.open(model, "jdbc:sqlite::memory:"))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("an empty database of its own; use jdbc:sqlite:file:NAME?mode=memory");
        try (Store shared = Trips.open(model, "jdbc:sqlite:file:rescue" + database + "?mode=memory&cache=shared")) {
            shared.schema().createMissing();
            assertThat(shared.schema().verify()).isEmpty();
        }
    }

    @Test
    @SuppressWarnings({"NullAway", "DataFlowIssue"}) // on purpose
    void whatIsNullIsRefusedByItsName() {
        fill();
        Condition<Radio> none = null;
        store.run(work -> {
            Map<String, Runnable> calls = Map.of(
                    "entity", () -> work.add(null),
                    "key", () -> work.find(Radio.class, null),
                    "condition",
                            () -> work.from(Radio.class)
                                    .where(none, the(Radio::getCallSign).isNull()),
                    "text", () -> work.sql((String) null),
                    "statement", () -> work.sql((Sql<?>) null),
                    "keys", () -> work.findAll(Radio.class, null));
            calls.forEach((name, call) -> assertThatThrownBy(call::run)
                    .isInstanceOf(NullPointerException.class)
                    .hasMessage(name));
        });
    }
}
