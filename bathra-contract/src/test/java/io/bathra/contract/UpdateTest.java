package io.bathra.contract;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.parameter;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.UniqueViolation;
import io.bathra.junit.Faults;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Assignment;
import io.bathra.query.Condition;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Updates of whatever rows a query finds. */
@OnEachDatabase
class UpdateTest {
    enum Mark {
        NONE,
        HELD,
        FREE
    }

    static final class Yard {
        Long id;
        String name;
        final Links<Lot> lots = Links.empty();

        Long id() {
            return id;
        }

        String name() {
            return name;
        }

        Links<Lot> lots() {
            return lots;
        }
    }

    static final class Lot {
        Long id;
        String code;
        int kilos;
        Integer most;
        BigDecimal price;
        Mark mark = Mark.NONE;
        int revision;
        Instant changed;
        final Link<Yard> yard = Link.empty();

        Long id() {
            return id;
        }

        String code() {
            return code;
        }

        int kilos() {
            return kilos;
        }

        Integer most() {
            return most;
        }

        BigDecimal price() {
            return price;
        }

        Mark mark() {
            return mark;
        }

        int revision() {
            return revision;
        }

        Instant changed() {
            return changed;
        }

        Link<Yard> yard() {
            return yard;
        }

        String row() {
            Object key = yard.key();
            return code + " " + kilos + " " + most + " " + price + " " + mark + " " + revision + " " + changed + " "
                    + key;
        }
    }

    private static final Instant MORNING = Instant.parse("2026-04-01T06:00:00Z");
    private static final Instant EVENING = Instant.parse("2026-04-01T18:00:00Z");

    private static Entity<Lot> lot() {
        return Entity.of(Lot.class, Lot::new)
                .column(Lot::code, required(), length(12), unique())
                .column(Lot::price, digits(12, 2))
                .stampOnUpdate(Lot::changed)
                .version(Lot::revision);
    }

    private static Model model(Entity<Lot> lot) {
        return Model.of("yards", Entity.of(Yard.class, Yard::new).links(Yard::lots, Lot::yard), lot);
    }

    private final Faults faults;
    private final Store store;
    private Keys keys;

    UpdateTest(TestDatabase database) {
        faults = Faults.in(database.empty());
        store = Trips.open(model(lot()), faults.source()).withClock(Clock.fixed(MORNING, ZoneOffset.UTC));
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        store.run(work -> {
            for (int y = 1; y <= 3; y++) {
                Yard yard = new Yard();
                yard.name = "yard " + y;
                for (int l = 1; l <= 4; l++) {
                    Lot lot = new Lot();
                    lot.code = y + "-" + l;
                    lot.kilos = y * 100 + l;
                    lot.most = l == 4 ? null : (Integer) (1000 * l);
                    lot.price = BigDecimal.valueOf(l, 1);
                    yard.lots.add(lot);
                }
                work.add(yard);
            }
        });
        keys = Keys.in(store, "yard", "lot");
    }

    @AfterEach
    void everyConnectionIsGivenBack() {
        assertThat(faults.open()).isZero();
    }

    private static Condition<Lot> ofYard(int number) {
        return text(Lot::yard, Yard::name).is("yard " + number);
    }

    private Store evening() {
        return store.withClock(Clock.fixed(EVENING, ZoneOffset.UTC));
    }

    @Test
    void rowsAndTheirObjectsChange() {
        evening().run(work -> {
            List<Lot> lots = work.from(Lot.class).list();
            Lot first = lots.get(0);
            first.kilos = 7; // pending, so it goes first
            assertThat(work.from(Lot.class)
                            .where(ofYard(1))
                            .update(
                                    the(Lot::mark).to(Mark.HELD),
                                    number(Lot::kilos).to(number(Lot::kilos).times(2)),
                                    the(Lot::most).to(the(Lot::kilos)),
                                    number(Lot::price).to(number(Lot::price).times(new BigDecimal("1.05")))))
                    .isEqualTo(4);
            assertThat(first.row()).isEqualTo("1-1 14 7 0.11 HELD 2 " + EVENING + " " + keys.of("yard", 1));
            assertThat(lots.get(3).row()).isEqualTo("1-4 208 104 0.42 HELD 1 " + EVENING + " " + keys.of("yard", 1));
            assertThat(lots.get(4).row()).isEqualTo("2-1 201 1000 0.10 NONE 0 " + MORNING + " " + keys.of("yard", 2));
            assertThat(work.standing(first)).isEqualTo(Standing.CLEAN);
            first.kilos++;
        });
        store.run(work ->
                assertThat(work.require(Lot.class, keys.of("lot", 1)).row()).startsWith("1-1 15 7 0.11 HELD 3 "));
    }

    /** Each value is made of those that were there before, on databases that assign one after the other as well. */
    @Test
    void newValuesAreMadeOfOldOnes() {
        store.run(work -> {
            work.from(Lot.class)
                    .where(the(Lot::id).is(keys.of("lot", 1)))
                    .update(
                            number(Lot::kilos).to(number(Lot::most).orElse(0)),
                            the(Lot::most).to(the(Lot::kilos)));
            Lot lot = work.require(Lot.class, keys.of("lot", 1));
            assertThat(lot.kilos).isEqualTo(1000);
            assertThat(lot.most).isEqualTo(101);
        });
    }

    @Test
    void linksMoveAndValuesGo() {
        store.run(work -> {
            Yard one = work.require(Yard.class, keys.of("yard", 1));
            Yard two = work.require(Yard.class, keys.of("yard", 2));
            assertThat(one.lots).hasSize(4);
            assertThat(two.lots).hasSize(4);
            assertThat(work.from(Lot.class)
                            .where(ofYard(1), the(Lot::most).isNotNull())
                            .update(
                                    the(Lot::yard, Yard::id).to(keys.of("yard", 2)),
                                    the(Lot::most).toNull()))
                    .isEqualTo(3);
            assertThat(one.lots).extracting(Lot::code).containsExactly("1-4");
            assertThat(two.lots).hasSize(7).allMatch(lot -> lot.yard.get() == two);
            assertThat(work.from(Lot.class).where(the(Lot::most).isNull()).count())
                    .isEqualTo(6);
            assertThat(work.from(Lot.class)
                            .where(ofYard(9))
                            .update(the(Lot::kilos).to(0)))
                    .isZero();
        });
    }

    @Test
    void parametersServeValuesToo() {
        store.run(work -> {
            assertThat(work.from(Lot.class)
                            .where(the(Lot::kilos).above(parameter("least", Integer.class)))
                            .with("least", 300)
                            .with("mark", Mark.FREE)
                            .update(the(Lot::mark).to(parameter("mark", Mark.class))))
                    .isEqualTo(4);
            assertThat(work.from(Lot.class).where(the(Lot::mark).is(Mark.FREE)).count())
                    .isEqualTo(4);
        });
    }

    @Test
    void nonsenseIsRefusedBeforeAnySql() {
        try (UnitOfWork work = store.begin()) {
            var lots = work.from(Lot.class);
            assertThatThrownBy(() -> lots.update(the(Lot::code).to("much too long a code")))
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining("is 20 long, but the column keeps 12");
            assertThatThrownBy(() -> lots.update(the(Lot::price).to(new BigDecimal("0.001"))))
                    .hasMessageContaining("does not fit into digits(12, 2)");
            assertThatThrownBy(() -> lots.update(the(Lot::code).toNull())).hasMessageContaining("is required");
            assertThatThrownBy(() -> lots.update(the(Lot::id).to(7L))).hasMessageContaining("is the key");
            assertThatThrownBy(() -> lots.update(the(Lot::revision).to(7))).hasMessageContaining("versions");
            assertThatThrownBy(() -> lots.update(number(Lot::kilos).plus(1).to(7)))
                    .hasMessageContaining("is computed, so it cannot be given a value");
            assertThatThrownBy(() -> lots.update(text(Lot::yard, Yard::name).to("x")))
                    .hasMessageContaining("is in another row");
            assertThatThrownBy(() -> lots.update(the(Lot::code).to(text(Lot::yard, Yard::name))))
                    .hasMessageContaining("is in another row");
            assertThatThrownBy(() ->
                            lots.update(the(Lot::kilos).to(1), the(Lot::kilos).to(2)))
                    .hasMessageContaining("given two values");
            assertThatThrownBy(() -> lots.limit(2).update(the(Lot::kilos).to(1)))
                    .hasMessageContaining("more than conditions, which update(...) cannot heed");
            assertThatThrownBy(() -> lots.update()).hasMessageContaining("nothing to change");
            String none = null;
            assertThatThrownBy(() -> the(Lot::code).to(none)).hasMessageContaining("toNull()");
            assertThat(work.trace().statements()).isEmpty();
        }
    }

    @Test
    void aFailedUpdateLeavesEverythingAsItWas() {
        store.run(work -> {
            Lot lot = work.require(Lot.class, keys.of("lot", 1));
            assertThatThrownBy(() -> work.from(Lot.class)
                            .where(ofYard(1))
                            .update(the(Lot::code).to("same")))
                    .isInstanceOf(UniqueViolation.class);
            assertThat(lot.code).isEqualTo("1-1");
            lot.kilos = 5;
        });
        store.run(work ->
                assertThat(work.require(Lot.class, keys.of("lot", 1)).row()).startsWith("1-1 5 1000 0.10 NONE 1 "));
    }

    @Test
    void listenersAreNotPassedOver() {
        List<String> heard = new ArrayList<>();
        Store listening = Trips.open(model(lot().beforeUpdate((lot, changed) -> heard.add(lot.code))), faults.source());
        listening.run(work -> {
            assertThatThrownBy(() -> work.from(Lot.class).update(the(Lot::kilos).to(1)))
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("without a word to the update listeners");
            assertThat(work.from(Lot.class)
                            .bypassListeners()
                            .update(the(Lot::kilos).to(1)))
                    .isEqualTo(12);
        });
        assertThat(heard).isEmpty();
    }

    // ---- at random

    private static Condition<Lot> condition(Random random) {
        return switch (random.nextInt(5)) {
            case 0 -> ofYard(1 + random.nextInt(3));
            case 1 -> the(Lot::kilos).below(random.nextInt(400));
            case 2 -> the(Lot::most).isNull();
            case 3 -> the(Lot::mark).in(List.of(Mark.values()[random.nextInt(3)]));
            default -> text(Lot::code).endsWith("-" + (1 + random.nextInt(4)));
        };
    }

    private Assignment<Lot> assignment(Random random, int kind) {
        return switch (kind) {
            case 0 -> number(Lot::kilos).to(number(Lot::kilos).plus(random.nextInt(9)));
            case 1 ->
                random.nextBoolean()
                        ? the(Lot::most).to(the(Lot::kilos))
                        : the(Lot::most).toNull();
            case 2 -> the(Lot::mark).to(Mark.values()[random.nextInt(3)]);
            case 3 -> number(Lot::price).to(number(Lot::price).plus(new BigDecimal("0.25")));
            default -> the(Lot::yard, Yard::id).to(keys.of("yard", 1 + random.nextInt(3)));
        };
    }

    @Test
    void afterEachUpdateEveryObjectIsWhatItsRowHolds() {
        for (int seed = 0; seed < 40; seed++) {
            Random random = new Random(seed);
            try (UnitOfWork work = store.begin()) {
                List<Yard> yards = work.from(Yard.class).list();
                List<Lot> lots = work.from(Lot.class)
                        .where(
                                random.nextBoolean()
                                        ? condition(random)
                                        : the(Lot::id).atLeast(0L))
                        .list();
                yards.subList(0, random.nextInt(3)).forEach(yard -> yard.lots.size());
                for (int step = 0; step < 4; step++) {
                    if (!lots.isEmpty() && random.nextBoolean()) {
                        lots.get(random.nextInt(lots.size())).kilos = random.nextInt(500);
                    }
                    int kind = random.nextInt(5);
                    Condition<Lot> condition = condition(random);
                    long found = work.from(Lot.class).where(condition).count();
                    long changed = random.nextInt(6) == 0
                            ? work.from(Lot.class).where(condition).delete()
                            : work.from(Lot.class)
                                    .where(condition)
                                    .update(assignment(random, kind), assignment(random, (kind + 1) % 5));
                    assertThat(found).as("seed %s: %s", seed, condition).isEqualTo(changed);
                    for (Lot lot : List.copyOf(lots)) {
                        Optional<Lot> read = work.from(Lot.class)
                                .untracked()
                                .where(the(Lot::id).is(lot.id))
                                .first();
                        if (read.isEmpty()) {
                            assertThat(work.standing(lot)).isEqualTo(Standing.UNTRACKED);
                            assertThat(yards).noneMatch(yard -> yard.lots.contains(lot));
                            lots.remove(lot);
                        } else {
                            assertThat(lot.row())
                                    .as("seed %s", seed)
                                    .isEqualTo(read.get().row());
                            assertThat(work.standing(lot)).isEqualTo(Standing.CLEAN);
                        }
                    }
                    for (Lot lot : lots) {
                        for (Yard yard : yards) {
                            assertThat(yard.lots.contains(lot)).isEqualTo(lot.yard.get() == yard);
                        }
                    }
                }
            }
        }
    }
}
