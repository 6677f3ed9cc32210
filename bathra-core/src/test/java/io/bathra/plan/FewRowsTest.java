package io.bathra.plan;

import static io.bathra.attr.DeleteRule.CASCADE;
import static io.bathra.model.Declare.generated;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.unique;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.error.BathraException;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.track.Changes;
import io.bathra.track.Collector;
import io.bathra.track.Tracker;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.statistics.Statistics;
import org.junit.jupiter.api.Test;

/** For whatever the short way has an answer, it is that of the long way. */
class FewRowsTest {
    static final class Agency {
        Long id;
        String code;
        final Link<Agency> parent = Link.empty();

        String code() {
            return code;
        }

        Link<Agency> parent() {
            return parent;
        }
    }

    static final class Ship {
        Long id;
        String name;
        final Link<Agency> agency = Link.empty();
        final Links<Stay> stays = Links.empty();
        final Links<Agency> brokers = Links.empty();

        Link<Agency> agency() {
            return agency;
        }

        Links<Stay> stays() {
            return stays;
        }

        Links<Agency> brokers() {
            return brokers;
        }
    }

    static final class Stay {
        Long id;
        String note;
        final Link<Ship> ship = Link.empty();

        Link<Ship> ship() {
            return ship;
        }
    }

    private static final Model MODEL = Model.of(
            "few rows",
            Entity.of(Agency.class, Agency::new).column(Agency::code, unique()).link(Agency::parent),
            Entity.of(Ship.class, Ship::new)
                    .link(Ship::agency)
                    .links(Ship::stays, Stay::ship)
                    .pivot(Ship::brokers),
            Entity.of(Stay.class, Stay::new).link(Stay::ship, onDelete(CASCADE)));

    private final Tracker tracker = Tracker.alone(Mapping.of(MODEL));
    private final List<Agency> agencies = new ArrayList<>();
    private final List<Ship> ships = new ArrayList<>();
    private final List<Stay> stays = new ArrayList<>();

    @Property(tries = 3000)
    void bothWaysMakeTheSamePlan(@ForAll long seed) {
        Random random = new Random(seed);
        FewRowsTest world = new FewRowsTest();
        world.fill();
        int actions = 1 + random.nextInt(10);
        for (int i = 0; i < actions; i++) {
            world.act(random);
        }
        Changes changes = new Collector(world.tracker, Clock.systemUTC()).collect();
        Plan plan;
        try {
            plan = Planner.plan(world.tracker, changes, Abilities.FEWEST, true);
        } catch (BathraException e) {
            Statistics.collect("refused");
            return;
        }
        boolean isShort = FewRows.steps(changes.all(), changes.taken().keySet()) != null;
        Statistics.collect(isShort ? "short" : "long");
        Plan expected = Planner.theLongWay(changes, Abilities.FEWEST, true);
        assertThat(plan).hasToString(expected.toString());
        for (int i = 0; i < plan.steps().size(); i++) {
            assertThat(plan.steps().get(i).rows())
                    .isEqualTo(expected.steps().get(i).rows());
            assertThat(plan.steps().get(i).columnSet())
                    .isSameAs(expected.steps().get(i).columnSet());
        }
        Statistics.coverage(coverage -> coverage.check("short").percentage(share -> share > 20));
        Statistics.coverage(coverage -> coverage.check("long").percentage(share -> share > 20));
    }

    static final class Sheet {
        Long id;
        int a;
        int b;
        int c;
        int d;
        int e;
        int f;
        int g;
        int h;
        int i;
        int j;
        int k;

        Long id() {
            return id;
        }
    }

    @Test
    void rowsOfOneSetOfColumnsAreOneStepHoweverManySetsThereWere() {
        Tracker sheets = Tracker.alone(
                Mapping.of(Model.of("sheets", Entity.of(Sheet.class, Sheet::new).key(Sheet::id, generated()))));
        ModelEntity<Sheet> entity = sheets.model().entity(Sheet.class);
        int columns = entity.stored().size();
        for (long bits = 0; bits < 1 << columns; bits++) {
            entity.columnSets().of(BitSet.valueOf(new long[] {bits}));
        }
        for (long key = 1; key <= 2; key++) {
            Object[] row = new Object[columns];
            Arrays.fill(row, 0);
            row[0] = key;
            Sheet sheet = new Sheet();
            sheets.loader().stored(entity, sheet, row, false);
            sheet.a = 1;
            sheet.h = 1;
            sheet.k = 1;
        }
        Changes changes = new Collector(sheets, Clock.systemUTC()).collect();
        assertThat(Planner.plan(sheets, changes, Abilities.FEWEST, true).steps())
                .singleElement()
                .hasToString("update sheet (2 rows)");
    }

    /** Three rows of each, as if they had been read. */
    private void fill() {
        for (long key = 1; key <= 3; key++) {
            Long before = key == 1 ? null : key - 1;
            agencies.add(stored(Agency.class, "id", key, "code", "A" + key, "parent", before));
            ships.add(stored(Ship.class, "id", key, "name", "Ship " + key, "agency", key));
            stays.add(stored(Stay.class, "id", key, "note", "quiet", "ship", key));
        }
    }

    private <E> E stored(Class<E> type, Object... values) {
        ModelEntity<E> entity = tracker.model().entity(type);
        Object[] row = new Object[entity.stored().size()];
        for (int i = 0; i < values.length; i += 2) {
            row[((StoredAttribute) entity.attribute((String) values[i])).slot()] = values[i + 1];
        }
        E object = entity.instantiate();
        tracker.loader().stored(entity, object, row, false);
        return object;
    }

    private void act(Random random) {
        try {
            switch (random.nextInt(12)) {
                case 0 -> {
                    Agency agency = new Agency();
                    agency.code = "A" + random.nextInt(6);
                    if (random.nextBoolean()) {
                        agency.parent.set(one(agencies, random));
                    }
                    agencies.add(agency);
                    tracker.add(agency);
                }
                case 1, 2 -> {
                    Ship ship = new Ship();
                    ship.name = "New";
                    ship.agency.set(one(agencies, random));
                    ship.brokers.add(one(agencies, random));
                    ships.add(ship);
                    tracker.add(ship);
                }
                case 3, 4 -> {
                    Stay stay = new Stay();
                    stay.ship.set(one(ships, random));
                    stays.add(stay);
                    tracker.add(stay);
                }
                case 5 -> one(ships, random).name = "Other";
                case 6 -> one(ships, random).agency.set(one(agencies, random));
                case 7 -> one(stays, random).note = "loud";
                case 8 -> one(agencies, random).code = "A" + random.nextInt(6);
                case 9 -> tracker.remove(one(stays, random));
                case 10 -> tracker.remove(one(ships, random));
                default -> one(ships, random).brokers.add(one(agencies, random));
            }
        } catch (BathraException e) {
            // an action that is refused is none
        }
    }

    private static <T> T one(List<T> all, Random random) {
        return all.get(random.nextInt(all.size()));
    }
}
