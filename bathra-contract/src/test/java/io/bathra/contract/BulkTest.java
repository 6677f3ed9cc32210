package io.bathra.contract;

import static io.bathra.bulk.On.on;
import static io.bathra.bulk.Overwrite.overwrite;
import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.databaseDefault;
import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.text;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.bulk.BulkProgress;
import io.bathra.bulk.BulkResult;
import io.bathra.bulk.On;
import io.bathra.bulk.Overwrite;
import io.bathra.bulk.Rejection;
import io.bathra.error.BathraException;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.UniqueViolation;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Rows in any number, without tracking. */
@OnEachDatabase
class BulkTest {
    record Size(BigDecimal length, BigDecimal width) {}

    static final class Yard {
        private Long id;
        private String code;
        private int places = 10;

        Yard() {}

        Yard(String code) {
            this.code = code;
        }

        String code() {
            return code;
        }

        int places() {
            return places;
        }
    }

    static final class Container {
        private Long id;
        private String serial;
        private String seal;
        private int kilos;
        private String state;
        private Size size;
        private Instant created;
        private Instant touched;
        private Instant opened;
        private int revision;
        private final Link<Yard> yard = Link.empty();

        Container() {}

        Container(int number, Yard yard) {
            serial = "SER" + number;
            seal = "SEAL" + number;
            kilos = number;
            if (yard != null) {
                this.yard.set(yard);
            }
        }

        Long id() {
            return id;
        }

        String serial() {
            return serial;
        }

        String seal() {
            return seal;
        }

        int kilos() {
            return kilos;
        }

        String state() {
            return state;
        }

        Size size() {
            return size;
        }

        Instant created() {
            return created;
        }

        Instant touched() {
            return touched;
        }

        int revision() {
            return revision;
        }

        Link<Yard> yard() {
            return yard;
        }
    }

    /** Its key is assigned. */
    static final class Tariff {
        private String code;
        private BigDecimal price;
        private String note;

        Tariff() {}

        Tariff(String code, String price) {
            this.code = code;
            this.price = new BigDecimal(price);
        }

        String code() {
            return code;
        }

        BigDecimal price() {
            return price;
        }
    }

    static final Entity<?>[] ENTITIES = {
        Entity.of(Yard.class, Yard::new).column(Yard::code, required(), length(10), unique()),
        Entity.of(Container.class, Container::new)
                .column(Container::serial, required(), length(12), unique())
                .column(Container::seal, length(12), unique())
                .column(Container::state, required(), length(10), databaseDefault("'empty'"))
                .inline(Container::size)
                .link(Container::yard)
                .check(number(Container::kilos).atLeast(0))
                .stampOnInsert(Container::created)
                .stampOnUpdate(Container::touched)
                .version(Container::revision),
        Entity.of(Tariff.class, Tariff::new).key(Tariff::code, assigned()).column(Tariff::price, digits(8, 2))
    };

    static final Model MODEL = Model.of("yard", ENTITIES);

    private final Store store;

    BulkTest(TestDatabase database) {
        store = Trips.open(MODEL, database.empty());
        store.schema().createMissing();
    }

    private static List<Container> containers(int from, int to, Yard yard) {
        return IntStream.range(from, to).mapToObj(i -> new Container(i, yard)).toList();
    }

    private long count(Class<?> type) {
        return store.call(work -> work.from(type).count());
    }

    private Container read(String serial) {
        return store.call(work -> work.from(Container.class)
                .where(text(Container::serial).is(serial))
                .one());
    }

    // ---- insert

    @Test
    void parentsGetTheirKeysAndThenTheirChildrenLeadToThem() {
        List<Yard> yards = List.of(new Yard("N"), new Yard("S"), new Yard("W"));
        BulkResult parents = store.bulk(Yard.class).withKeys().insert(yards);
        assertThat(parents.keys()).isEqualTo(yards.stream().map(yard -> yard.id).toList());
        List<Container> some = new ArrayList<>();
        for (int i = 0; i < 500; i++) {
            some.add(new Container(i, yards.get(i % 3)));
        }
        some.get(7).state = "full";
        some.get(8).size = new Size(new BigDecimal("6.10"), new BigDecimal("2.44"));
        List<BulkProgress> progress = new ArrayList<>();
        BulkResult children = store.bulk(Container.class)
                .portion(200)
                .onProgress(progress::add)
                .insert(some.stream());
        assertThat(children.rows()).isEqualTo(500);
        assertThat(children.inserted()).isEqualTo(500);
        assertThat(children.keys()).isEmpty();
        assertThat(some.get(0).id).isNull();
        assertThat(progress).extracting(BulkProgress::rows).containsExactly(200L, 400L, 500L);
        assertThat(read("SER5").yard.key()).isEqualTo(yards.get(2).id);
        assertThat(read("SER5").state).isEqualTo("empty");
        assertThat(read("SER7").state).isEqualTo("full");
        assertThat(read("SER7").created).isNotNull().isEqualTo(read("SER7").touched);
        assertThat(read("SER8").size.width()).isEqualByComparingTo("2.44");
        store.run(work -> work.add(new Yard("later"))); // the database goes on behind the keys that were drawn
        assertThat(children.toString()).startsWith("500 rows: 500 inserted, in ");
    }

    @Test
    void aRowThatIsThereAlreadyFailsAndNothingOfTheCallIsStored() {
        store.bulk(Container.class).insert(containers(300, 301, null));
        List<Container> some = containers(0, 400, null);
        assertThatThrownBy(() ->
                        store.bulk(Container.class).portion(100).withKeys().insert(some))
                .isInstanceOf(UniqueViolation.class)
                .hasMessageContaining("Container.");
        assertThat(count(Container.class)).isOne();
        assertThat(some).allMatch(container -> container.id == null);
    }

    @Test
    void aStreamThatThrowsLeavesNothingAndTheConnectionIsFine() {
        Stream<Container> broken = IntStream.range(0, 1_000).mapToObj(i -> {
            if (i == 777) {
                throw new IllegalStateException("the file ends in the middle of line 778");
            }
            return new Container(i, null);
        });
        assertThatThrownBy(() -> store.bulk(Container.class).portion(100).insert(broken))
                .isInstanceOf(IllegalStateException.class)
                .hasMessage("the file ends in the middle of line 778");
        assertThat(count(Container.class)).isZero();
    }

    @Test
    void rowsMayComeFromTheUnitThatStoresThem() {
        store.bulk(Container.class).insert(containers(0, 500, null));
        store.run(work -> {
            BulkResult result = work.bulk(Yard.class)
                    .portion(100)
                    .insert(IntStream.range(0, 500)
                            .mapToObj(i -> new Yard(work.from(Container.class)
                                    .where(number(Container::kilos).is(i))
                                    .one()
                                    .serial)));
            assertThat(result.inserted()).isEqualTo(500);
        });
        assertThat(count(Yard.class)).isEqualTo(500);
    }

    @Test
    void rowsThatCannotBeStoredAreNamedAllAtOnce() {
        List<Container> some = new ArrayList<>(containers(0, 5, null));
        some.get(1).serial = null;
        some.get(3).serial = "far too long a serial";
        assertThatThrownBy(() -> store.bulk(Container.class).insert(some))
                .isInstanceOf(InvalidChangesException.class)
                .hasMessageContaining("row 2 of Container.serial = null: is required")
                .hasMessageContaining("row 4 of Container.serial = far too long a serial: is 21 long");
        assertThat(count(Container.class)).isZero();
    }

    // ---- records and maps

    record Line(String serial, int kilos, String yardCode, Size size) {}

    @Test
    void recordsNameAttributesAndTargetsByWhatIsUniqueThere() {
        store.bulk(Yard.class).insert(List.of(new Yard("N"), new Yard("S")));
        BulkResult result = store.bulk(Container.class)
                .records(Line.class)
                .insert(List.of(
                        new Line("A", 5, "S", new Size(BigDecimal.ONE, BigDecimal.TEN)), new Line("B", 6, null, null)));
        assertThat(result.inserted()).isEqualTo(2);
        store.run(work -> {
            Container first = work.from(Container.class)
                    .where(text(Container::serial).is("A"))
                    .one();
            assertThat(first.yard.get().code).isEqualTo("S");
            assertThat(first.size.width()).isEqualByComparingTo("10");
            assertThat(first.seal).isNull();
        });
        assertThat(read("B").yard.isEmpty()).isTrue();
    }

    private static Map<String, ?> map(Object... namesAndValues) {
        Map<String, Object> map = new HashMap<>();
        for (int i = 0; i < namesAndValues.length; i += 2) {
            map.put((String) namesAndValues[i], namesAndValues[i + 1]);
        }
        return map;
    }

    @Test
    void mapsNameColumnsInsideOfInlinedValuesToo() {
        Yard yard = new Yard("N");
        store.bulk(Yard.class).withKeys().insert(List.of(yard));
        store.bulk(Container.class)
                .maps()
                .insert(List.of(
                        map("serial", "A", "kilos", 1, "size.width", 2, "size.length", 3, "yard", yard),
                        map(
                                "serial",
                                "B",
                                "kilos",
                                (short) 2,
                                "size.width",
                                null,
                                "size.length",
                                null,
                                "yard",
                                yard.id)));
        assertThat(read("A").size.length()).isEqualByComparingTo("3");
        assertThat(read("B").size).isNull();
        assertThat(read("B").yard.key()).isEqualTo(yard.id);
    }

    @Test
    void textsBecomeWhatColumnsKeep() {
        store.bulk(Yard.class).texts().insert(List.of(Map.of("code", "N", "places", "40")));
        List<Rejection> rejections = new ArrayList<>();
        BulkResult result = store.bulk(Container.class)
                .texts()
                .rejectTo(rejections::add)
                .upsert(
                        List.of(
                                line("A", "1200", "6.10", "N", "2026-04-01T06:30:00Z"),
                                line("B", "heavy", "6.10", "N", ""),
                                line("C", "3", "wide", "N", ""),
                                line("D", "4", "", "X", "yesterday"),
                                line("E", "5", "", "", "")),
                        On.named(List.of("serial")),
                        Overwrite.named(List.of("kilos")));
        assertThat(List.of(result.inserted(), result.rejected())).containsExactly(2L, 3L);
        assertThat(rejections)
                .extracting(rejection -> rejection.row() + " " + rejection.attribute() + " " + rejection.reason())
                .containsExactly(
                        "2 kilos is not a whole number, such as 42",
                        "3 size_length is not a decimal number, such as 12.5",
                        "3 size.width is not a decimal number, such as 12.5",
                        "4 opened is not a moment with its zone, such as 2026-04-01T06:30:00Z",
                        "4 yard.code names no Yard; store that first, or mend the value");
        Container stored = read("A");
        assertThat(stored.kilos).isEqualTo(1_200);
        assertThat(stored.size.length()).isEqualByComparingTo("6.10");
        assertThat(stored.opened).isEqualTo("2026-04-01T06:30:00Z");
        assertThat(read("E").yard.isEmpty()).isTrue();
        assertThat(read("E").seal).isNull();
        assertThatThrownBy(() -> store.bulk(Container.class)
                        .texts()
                        .insert(List.of(Map.of("serial", "F", "kilos", "1", "size", "2 x 3"))))
                .hasMessageContaining(
                        "'size' lies in several columns, which one text cannot give; give size.length, size.width");
    }

    private static Map<String, String> line(String serial, String kilos, String length, String yard, String opened) {
        Map<String, String> line = new LinkedHashMap<>();
        line.put("serial", serial);
        line.put("kilos", kilos);
        line.put("seal", "");
        line.put("size_length", length); // a column's name
        line.put("size.width", length);
        line.put("yard.code", yard);
        line.put("opened", opened);
        return line;
    }

    @Test
    void whatRowsLackOrMisspellIsSaid() {
        var maps = store.bulk(Container.class).maps();
        assertThatThrownBy(() -> maps.insert(List.of(map("serial", "A", "kilos", 1), map("serial", "B", "kg", 1))))
                .isInstanceOf(InvalidChangesException.class)
                .hasMessageContaining("row 2 of Container")
                .hasMessageContaining("has other keys than the first row: [kilos] is missing: [kg] is more");
        assertThatThrownBy(() -> maps.insert(List.of(map("serial", "A"))))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("Container.kilos is required, but the rows give no value for it");
        assertThatThrownBy(() -> maps.insert(List.of(map("serial", "A", "kilo", 1))))
                .hasMessageContaining("'kilo' names nothing that a row of Container keeps; it has id, serial, seal");
        assertThatThrownBy(() -> maps.insert(List.of(map("serial", "A", "kilos", 1, "yard.places", 10))))
                .hasMessageContaining("Yard.places is not unique");
        assertThatThrownBy(() -> maps.insert(List.of(map("serial", "A", "kilos", "heavy"))))
                .hasMessageContaining("row 1 of Container.kilos = heavy: is a String, but the column keeps a Integer");
        assertThatThrownBy(() -> maps.upsert(List.of(map("serial", "A", "kilos", 1)), on(Container::kilos)))
                .hasMessageContaining("no unique constraint of Container is on exactly kilos; it has id, serial, seal");
        assertThat(count(Container.class)).isZero();
    }

    // ---- insert missing

    @Test
    void whatIsMissingIsInsertedOnceAndNoMore() {
        List<Container> some = new ArrayList<>(containers(0, 300, null));
        some.add(new Container(5, null)); // the first of two in one call counts
        some.get(some.size() - 1).kilos = 99;
        BulkResult first = store.bulk(Container.class).insertMissing(some);
        assertThat(List.of(first.inserted(), first.skipped())).containsExactly(300L, 1L);
        assertThat(read("SER5").kilos).isEqualTo(5);
        BulkResult again = store.bulk(Container.class).withKeys().insertMissing(some);
        assertThat(List.of(again.inserted(), again.skipped())).containsExactly(0L, 301L);
        assertThat(again.keys().get(5))
                .isEqualTo(read("SER5").id)
                .isEqualTo(again.keys().get(300));
        Container sealTaken = new Container(1_000, null);
        sealTaken.seal = "SEAL7";
        assertThat(store.bulk(Container.class)
                        .insertMissing(List.of(sealTaken, new Container(1_001, null)))
                        .skipped())
                .as("by any constraint")
                .isOne();
        assertThatThrownBy(() -> store.bulk(Container.class).insertMissing(List.of(sealTaken), on(Container::serial)))
                .as("by the named constraint alone")
                .isInstanceOf(UniqueViolation.class);
        assertThat(count(Container.class)).isEqualTo(301);
    }

    // ---- upsert

    @Test
    void anUpsertTellsNewFromChangedFromUnchanged() {
        store.bulk(Container.class).insert(containers(0, 600, null));
        store.run(work ->
                work.sql("update container set revision = 3, state = 'full'").execute());
        Instant before = read("SER1").touched;
        List<Container> some = new ArrayList<>();
        for (int i = 300; i < 900; i++) {
            Container container = new Container(i, null);
            container.kilos = i % 2 == 0 ? i : i + 10_000;
            container.seal = "NEW" + i; // not overwritten
            some.add(container);
        }
        some.add(new Container(301, null));
        some.get(some.size() - 1).kilos = 7; // the last of two in one call counts
        BulkResult result =
                store.bulk(Container.class).withKeys().upsert(some, on(Container::serial), overwrite(Container::kilos));
        assertThat(List.of(result.inserted(), result.updated(), result.unchanged(), result.skipped()))
                .containsExactly(300L, 150L, 150L, 1L);
        Container changed = read("SER303");
        assertThat(changed.kilos).isEqualTo(10_303);
        assertThat(changed.revision).isEqualTo(4);
        assertThat(changed.seal).isEqualTo("SEAL303");
        assertThat(changed.state).isEqualTo("full");
        assertThat(changed.touched).isAfter(before);
        assertThat(changed.created).isBeforeOrEqualTo(before);
        assertThat(some.get(3).id).isEqualTo(changed.id);
        assertThat(read("SER302").revision).as("unchanged").isEqualTo(3);
        assertThat(read("SER301").kilos).isEqualTo(7);
        assertThat(read("SER800").seal).isEqualTo("NEW800");
        assertThat(read("SER800").state).isEqualTo("empty");
        assertThat(read("SER800").revision).isZero();
        assertThat(result.keys().get(500)).isEqualTo(read("SER800").id);
        BulkResult same = store.bulk(Container.class)
                .upsert(some.subList(4, 600), on(Container::serial), overwrite(Container::kilos));
        assertThat(same.unchanged()).isEqualTo(596);
    }

    @Test
    void thePrimaryKeyServesToo() {
        List<Tariff> tariffs = new ArrayList<>();
        for (int i = 0; i < 200; i++) {
            tariffs.add(new Tariff("T" + i, i + ".50"));
        }
        assertThat(store.bulk(Tariff.class).upsert(tariffs, on(Tariff::code)).inserted())
                .isEqualTo(200);
        tariffs.get(3).price = new BigDecimal("3.5"); // the same number
        tariffs.get(4).price = BigDecimal.ONE;
        tariffs.get(5).note = "a note";
        tariffs.add(new Tariff("new", "1"));
        BulkResult result = store.bulk(Tariff.class).upsert(tariffs, on(Tariff::code));
        assertThat(List.of(result.inserted(), result.updated(), result.unchanged()))
                .containsExactly(1L, 2L, 198L);
        Container container = new Container(1, null);
        store.bulk(Container.class).withKeys().insert(List.of(container));
        container.kilos = 77;
        assertThat(store.bulk(Container.class)
                        .upsert(List.of(container), on(Container::id))
                        .updated())
                .isOne();
        assertThat(read("SER1").kilos).isEqualTo(77);
    }

    // ---- rejected rows

    @Test
    void badRowsAreReportedAndTheGoodOnesStored() {
        store.bulk(Yard.class).insert(List.of(new Yard("N")));
        store.bulk(Container.class).insert(containers(9_000, 9_001, null));
        List<Map<String, ?>> rows = new ArrayList<>();
        for (int i = 1; i <= 3_000; i++) {
            Object serial = switch (i) {
                case 11 -> null;
                case 500 -> "far too long a serial";
                case 1_234 -> "SER9000"; // is there
                case 2_999 -> "C1"; // is given above
                default -> "C" + i;
            };
            Object kilos = i == 1_500 ? -1 : i == 1_501 ? "heavy" : i;
            rows.add(map("serial", serial, "kilos", kilos, "yard.code", i == 2_000 ? "X" : "N"));
        }
        List<Rejection> rejections = new ArrayList<>();
        BulkResult result =
                store.bulk(Container.class).maps().rejectTo(rejections::add).insert(rows);
        assertThat(result.inserted()).isEqualTo(2_993);
        assertThat(result.rejected()).isEqualTo(7).isEqualTo(rejections.size());
        assertThat(count(Container.class)).isEqualTo(2_994);
        Map<Long, String> reasons = new HashMap<>();
        rejections.forEach(
                rejection -> reasons.put(rejection.row(), rejection.attribute() + ": " + rejection.reason()));
        assertThat(reasons.get(11L)).isEqualTo("serial: is required; give it a value");
        assertThat(reasons.get(500L)).startsWith("serial: is 21 long, but the column keeps 12");
        assertThat(reasons.get(1_234L))
                .isEqualTo("serial: must be unique, but another row has it; change it, or leave the row out");
        assertThat(reasons.get(1_500L)).contains("breaks the check");
        assertThat(reasons.get(1_501L)).startsWith("kilos: is a String, but the column keeps a Integer");
        assertThat(reasons.get(2_000L)).isEqualTo("yard.code: names no Yard; store that first, or mend the value");
        assertThat(reasons).containsKey(2_999L);
        assertThat(rejections)
                .filteredOn(rejection -> rejection.row() == 1_234)
                .singleElement()
                .hasToString(
                        "row 1234, serial = SER9000: must be unique, but another row has it; change it, or leave the"
                                + " row out");
    }

    @Test
    void aLinkThatLeadsNowhereIsARejectedRowAsWell() {
        List<Rejection> rejections = new ArrayList<>();
        BulkResult result = store.bulk(Container.class)
                .maps()
                .rejectTo(rejections::add)
                .upsert(
                        List.of(
                                map("serial", "A", "kilos", 1, "yardId", null),
                                map("serial", "B", "kilos", 1, "yardId", 4711)),
                        on(Container::serial));
        assertThat(result.inserted()).isOne();
        assertThat(rejections).singleElement().satisfies(rejection -> {
            assertThat(rejection.attribute()).isEqualTo("yard");
            assertThat(rejection.value()).hasToString("4711");
            assertThat(rejection.reason()).isEqualTo("leads to no Yard; store that first, or mend the value");
        });
    }

    // ---- in a unit of work

    @Test
    void inAUnitTheTransactionIsItsOwnAndTrackedObjectsFollow() {
        store.bulk(Container.class).insert(containers(0, 10, null));
        try (UnitOfWork work = store.begin()) {
            Container tracked = work.from(Container.class)
                    .where(text(Container::serial).is("SER3"))
                    .one();
            Yard pending = new Yard("P");
            work.add(pending);
            BulkResult result = work.bulk(Container.class)
                    .maps()
                    .upsert(
                            List.of(
                                    map("serial", "SER3", "kilos", 333, "yard.code", "P"),
                                    map("serial", "SER4", "kilos", 4, "yard.code", null)),
                            on(Container::serial));
            assertThat(List.of(result.updated(), result.unchanged())).containsExactly(1L, 1L);
            assertThat(tracked.kilos).isEqualTo(333);
            assertThat(tracked.yard.get()).isSameAs(pending);
            assertThat(tracked.revision).isOne();
            assertThat(work.standing(tracked)).isEqualTo(Standing.CLEAN);
            assertThatThrownBy(() -> work.bulk(Container.class).insert(containers(9, 12, null)))
                    .isInstanceOf(UniqueViolation.class);
            tracked.kilos = 334; // the unit goes on as if the failed call had never been
            work.commit();
        }
        assertThat(read("SER3").kilos).isEqualTo(334);
        assertThat(count(Container.class)).isEqualTo(10);
        try (UnitOfWork work = store.begin()) {
            Container tracked = work.from(Container.class)
                    .where(text(Container::serial).is("SER3"))
                    .one();
            work.bulk(Container.class).upsert(List.of(new Container(3, null)), on(Container::serial));
            assertThat(tracked.kilos).isEqualTo(3);
            work.rollback();
            assertThat(work.trace().lines()).anyMatch(line -> line.sql().contains("rollback"));
        }
        assertThat(read("SER3").kilos).isEqualTo(334);
    }

    @Test
    void aCallWithoutRowsDoesNothing() {
        assertThat(store.bulk(Container.class).insert(List.of()).toString()).startsWith("0 rows: nothing to do, in ");
        assertThatThrownBy(() -> store.bulk(Container.class).portion(0))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessage("a portion has at least one row, not 0");
        assertThatThrownBy(() -> store.bulk(Container.class).insert(Arrays.asList(new Container(1, null), null)))
                .hasMessageContaining("row 2 is null");
        assertThat(count(Container.class)).isZero();
    }
}
