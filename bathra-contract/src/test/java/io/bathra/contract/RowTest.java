package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.UnitStateException;
import io.bathra.link.Later;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Rows that are written without having been read: by a handle, or as an object that came back from elsewhere. */
@OnEachDatabase
class RowTest {
    record Size(double length, double beam) {}

    static final class Yard {
        private Long id;
        private final Links<Hull> hulls = Links.empty();

        Links<Hull> hulls() {
            return hulls;
        }
    }

    static final class Hull {
        private Long id;
        private String code;
        private String name;
        private int seats;
        private Size size = new Size(1, 1);
        private int revision;
        private LocalDateTime changedAt;
        private final Later<String> history = Later.empty();
        private final Link<Yard> yard = Link.empty();
        private List<String> crew = new ArrayList<>();

        Hull() {}

        Hull(String code) {
            this.code = code;
            name = "hull " + code;
        }

        Long id() {
            return id;
        }

        String code() {
            return code;
        }

        String name() {
            return name;
        }

        int seats() {
            return seats;
        }

        Size size() {
            return size;
        }

        int revision() {
            return revision;
        }

        LocalDateTime changedAt() {
            return changedAt;
        }

        Later<String> history() {
            return history;
        }

        Link<Yard> yard() {
            return yard;
        }

        List<String> crew() {
            return crew;
        }
    }

    private static final Model MODEL = Model.of(
            "yards",
            Entity.of(Yard.class, Yard::new).links(Yard::hulls, Hull::yard),
            Entity.of(Hull.class, Hull::new)
                    .column(Hull::code, required(), length(5), unique())
                    .parts(Hull::crew)
                    .version(Hull::revision)
                    .stampOnUpdate(Hull::changedAt));

    private final Store store;
    private Keys keys;
    private UnitOfWork work;

    RowTest(TestDatabase database) {
        store = Trips.open(MODEL, database.empty());
    }

    @BeforeEach
    void fill() {
        store.schema().createMissing();
        store.run(work -> {
            work.add(new Yard());
            for (String code : List.of("A", "B", "C")) {
                Hull hull = new Hull(code);
                hull.crew().add("Ada");
                work.add(hull);
            }
        });
        keys = Keys.in(store, "yard", "hull");
        work = store.begin();
    }

    @AfterEach
    void close() {
        work.close();
        store.close();
    }

    private Hull stored(long number) {
        return store.call(other -> {
            Hull hull = other.require(Hull.class, keys.of("hull", number));
            hull.yard().find();
            return hull;
        });
    }

    @Test
    void writesWithoutReading() {
        work.row(Hull.class, keys.of("hull", 2))
                .set(Hull::name, "renamed")
                .set(Hull::seats, 7)
                .set(Hull::size, new Size(12, 4))
                .link(Hull::yard, keys.of("yard", 1));
        work.row(Hull.class, keys.of("hull", 3)).remove();

        assertThat(work.changes())
                .extracting(Object::toString)
                .contains(keys.in("Hull {hull 2}.name: null -> renamed"), keys.in("Hull {hull 3}: removed"));
        assertThat(work.plan().rowCount()).isEqualTo(2);
        work.commit();

        assertThat(work.trace().statements())
                .noneMatch(statement -> statement.sql().startsWith("select"));
        Hull hull = stored(2);
        assertThat(hull.name()).isEqualTo("renamed");
        assertThat(hull.code()).isEqualTo("B");
        assertThat(hull.seats()).isEqualTo(7);
        assertThat(hull.size()).isEqualTo(new Size(12, 4));
        assertThat(hull.yard().key()).isEqualTo(keys.of("yard", 1));
        assertThat(hull.crew()).containsExactly("Ada");
        assertThat(hull.revision()).isEqualTo(1);
        assertThat(hull.changedAt()).isNotNull();
        List<Hull> left = store.call(other -> other.from(Hull.class).list());
        assertThat(left).hasSize(2);
        assertThat(work.changes()).isEmpty();
    }

    @Test
    void textsForLaterAreSetWithoutReading() {
        work.row(Hull.class, keys.of("hull", 1)).set(Hull::history, "launched");
        work.flush();
        work.row(Hull.class, keys.of("hull", 1)).set(Hull::history, "launched and sunk");
        Hull hull = work.require(Hull.class, keys.of("hull", 1));
        assertThat(hull.history().get()).isEqualTo("launched and sunk");
        work.commit();
        String history = store.call(
                other -> other.require(Hull.class, keys.of("hull", 1)).history().get());
        assertThat(history).isEqualTo("launched and sunk");
    }

    @Test
    void aMissingRowIsAnErrorAndTheUnitGoesOn() {
        work.require(Hull.class, keys.of("hull", 1)).name = "good";
        work.row(Hull.class, 99L).set(Hull::name, "nobody");
        assertThatThrownBy(work::flush)
                .isInstanceOf(NoSuchRowException.class)
                .hasMessageContaining("Hull 99 is not there");
        assertThat(stored(1).name()).isEqualTo("hull A");
        work.discard();
        assertThat(work.changes()).isEmpty();
        work.row(Hull.class, 99L).remove();
        assertThatThrownBy(work::flush).isInstanceOf(NoSuchRowException.class).hasMessageContaining("removed");
    }

    @Test
    void anExpectedVersionIsChecked() {
        work.row(Hull.class, keys.of("hull", 1)).set(Hull::name, "mine").expectVersion(0);
        work.flush();
        work.row(Hull.class, keys.of("hull", 1)).set(Hull::name, "mine again").expectVersion(0);
        assertThatThrownBy(work::flush)
                .isInstanceOf(ConcurrentChangeException.class)
                .hasMessageContaining(keys.in("Hull {hull 1} (version 0 was expected, but it has 1 now)"));
        work.row(Hull.class, keys.of("hull", 1)).expectVersion(1);
        work.commit();
        assertThat(stored(1).name()).isEqualTo("mine again");
        assertThat(stored(1).revision()).isEqualTo(2);
    }

    @Test
    void onceTheRowIsReadTheEntityHasTheChanges() {
        work.row(Hull.class, keys.of("hull", 1)).set(Hull::name, "renamed").link(Hull::yard, keys.of("yard", 1));
        work.row(Hull.class, keys.of("hull", 2)).remove();
        Hull hull = work.require(Hull.class, keys.of("hull", 1));

        assertThat(hull.name()).isEqualTo("renamed");
        assertThat(work.standing(hull)).isEqualTo(Standing.DIRTY);
        assertThat(work.find(Hull.class, keys.of("hull", 2))).isEmpty();
        work.row(Hull.class, keys.of("hull", 1)).set(Hull::seats, 9);
        assertThat(hull.seats()).isEqualTo(9);
        Yard yard = work.require(Yard.class, keys.of("yard", 1));
        assertThat(yard.hulls()).containsExactly(hull);
        assertThatThrownBy(() -> work.row(Hull.class, keys.of("hull", 1)).expectVersion(5))
                .isInstanceOf(ConcurrentChangeException.class);
        work.commit();
        assertThat(stored(1).seats()).isEqualTo(9);
        List<Hull> left = store.call(other -> other.from(Hull.class).list());
        assertThat(left).hasSize(2);
    }

    @Test
    void aRollbackKeepsWhatWasToBeWritten() {
        work.row(Hull.class, keys.of("hull", 1)).set(Hull::name, "renamed");
        work.flush();
        work.rollback();
        work.row(Hull.class, keys.of("hull", 1)).set(Hull::seats, 3);
        assertThat(work.changes()).hasSize(3); // both attributes and the stamp
        work.commit();
        assertThat(stored(1).name()).isEqualTo("renamed");
        assertThat(stored(1).seats()).isEqualTo(3);
    }

    @Test
    void queriesSeeWhatHandlesHaveSet() {
        work.row(Hull.class, keys.of("hull", 1)).set(Hull::name, "renamed");
        assertThat(work.from(Hull.class).list()).extracting(Hull::name).contains("renamed");
    }

    @Test
    void refusesWhatARowCannotTake() {
        assertThatThrownBy(() -> work.row(Hull.class, "one"))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("the key of Hull");
        assertThatThrownBy(() -> work.row(Hull.class, keys.of("hull", 1)).set(Hull::name, 7))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("Hull.name");
        assertThatThrownBy(() -> work.row(Hull.class, keys.of("hull", 1)).set(Hull::seats, null))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("primitive");
        assertThatThrownBy(() -> work.row(Hull.class, keys.of("hull", 1)).set(Hull::revision, 4))
                .isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> work.row(Hull.class, keys.of("hull", 1)).set(Hull::crew, List.of()))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("require(Hull.class, key)");
        assertThatThrownBy(() -> work.row(Hull.class, keys.of("hull", 1)).link(Hull::yard, "x"))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("the key of Yard");
        assertThatThrownBy(() -> work.row(Yard.class, keys.of("yard", 1)).expectVersion(1))
                .isInstanceOf(BathraException.class);
        assertThat(work.changes()).isEmpty();
        work.row(Hull.class, keys.of("hull", 1)).set(Hull::code, "much too long");
        assertThatThrownBy(work::flush)
                .isInstanceOf(InvalidChangesException.class)
                .hasMessageContaining(keys.in("Hull {hull 1}.code"));
    }

    @Test
    void anObjectIsAdoptedOnTheTrustInItsVersion() {
        Hull edited = stored(1);
        edited.name = "edited outside";
        edited.crew().add("Bo");
        work.adoptUnread(edited);
        assertThat(work.standing(edited)).isEqualTo(Standing.DIRTY);
        assertThatThrownBy(() -> work.discard(edited))
                .isInstanceOf(UnitStateException.class)
                .hasMessageContaining("refresh");
        work.commit();
        assertThat(work.standing(edited)).isEqualTo(Standing.CLEAN);
        assertThat(stored(1).name()).isEqualTo("edited outside");
        assertThat(stored(1).crew()).containsExactly("Ada", "Bo");
        assertThat(stored(1).revision()).isEqualTo(1).isEqualTo(edited.revision());
    }

    @Test
    void anOldVersionIsNotTrusted() {
        Hull edited = stored(1);
        edited.name = "edited outside";
        store.run(other -> other.require(Hull.class, keys.of("hull", 1)).name = "by somebody else");
        work.adoptUnread(edited);
        assertThatThrownBy(work::commit)
                .isInstanceOf(ConcurrentChangeException.class)
                .hasMessageContaining(keys.in("Hull {hull 1}"));
        assertThatThrownBy(() -> work.adoptUnread(new Yard())).isInstanceOf(BathraException.class);
    }
}
