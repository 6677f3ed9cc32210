package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.DatabaseProduct;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.contract.CompositeKeyTest.Mooring;
import io.bathra.contract.CompositeKeyTest.Shift;
import io.bathra.contract.ConverterTest.Ship;
import io.bathra.contract.DatabaseMadeTest.Cargo;
import io.bathra.contract.EveryTypeTest.Everything;
import io.bathra.contract.GeneratorTest.Event;
import io.bathra.contract.GeneratorTest.Permit;
import io.bathra.contract.GeneratorTest.Ticket;
import io.bathra.contract.LaterTest.Document;
import io.bathra.contract.PivotTest.Job;
import io.bathra.contract.PivotTest.Pilot;
import io.bathra.contract.RulesTest.Booking;
import io.bathra.evolve.History.Wish;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.model.Declare;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** All that the other tests declare, in one model: created, filled, read back, changed and emptied. */
@OnEachDatabase
class EverythingTest {
    /** SQLite has no sequences. */
    static Model modelFor(TestDatabase database) {
        return Model.of(
                "everything",
                Stream.of(
                                EveryTypeTest.ENTITIES,
                                CompositeKeyTest.ENTITIES,
                                RulesTest.ENTITIES,
                                ConverterTest.ENTITIES,
                                DatabaseMadeTest.ENTITIES,
                                InlineTest.ENTITIES,
                                PartsTest.ENTITIES,
                                LaterTest.ENTITIES,
                                PivotTest.ENTITIES,
                                new Entity<?>[] {
                                    Entity.of(Permit.class, Permit::new)
                                            .key(Permit::id, Declare.keyTable("next keys", 7)),
                                    Entity.of(Event.class, Event::new).key(Event::id, Declare.timeOrdered()),
                                    Entity.of(Ticket.class, Ticket::new)
                                            .key(
                                                    Ticket::id,
                                                    database == TestDatabase.SQLITE
                                                            ? Declare.generated()
                                                            : Declare.sequence("ticket numbers", 10))
                                })
                        .flatMap(Arrays::stream)
                        .toArray(Entity<?>[]::new));
    }

    private final TestDatabase database;
    private final Store store;

    EverythingTest(TestDatabase database) {
        this.database = database;
        store = Trips.open(modelFor(database), database.empty());
    }

    static List<Object> some(int round) {
        List<Object> all = new ArrayList<>();
        for (int i = 0; i < 4; i++) {
            int number = 10 * round + i;
            all.add(EveryTypeTest.full(number));
            all.add(CompositeKeyTest.mooring(number));
            all.add(Booking.of("B" + number));
            all.add(ConverterTest.ship(String.valueOf(9_000_000 + number)));
            all.add(Cargo.of(number));
            all.add(new Permit());
            all.add(new Event());
            all.add(new Ticket());
            all.add(InlineTest.yard());
            all.add(PartsTest.tug());
            all.add(Document.of(number));
            Job job = new Job(number);
            job.pilots().add(new Pilot("pilot of " + number));
            job.reserve().add(new Pilot("reserve of " + number));
            all.add(job);
        }
        return all;
    }

    @Test
    void itIsCreatedVerifiedFilledChangedAndEmptied() {
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
        assertThat(store.model().describe())
                .contains("Everything in ", "Mooring in mooring", "key      id as time-ordered UUID");
        fillChangeAndEmpty(store);
        assertThat(store.schema().verify()).as("no generator lags behind").isEmpty();
    }

    static void fillChangeAndEmpty(Store store) {
        List<ModelEntity<?>> entities = Mapping.of(store.model()).entities();

        List<Object> stored = some(1);
        store.run(work -> {
            stored.forEach(work::add);
            work.flush();
            stored.forEach(one -> assertThat(work.standing(one)).isEqualTo(Standing.CLEAN));
        });
        store.run(work -> {
            assertThat(work.from(Everything.class).list())
                    .usingRecursiveFieldByFieldElementComparator()
                    .containsExactlyInAnyOrderElementsOf(stored.stream()
                            .filter(Everything.class::isInstance)
                            .map(Everything.class::cast)
                            .toList());
            assertThat(work.from(Mooring.class).alongWith(Mooring::shift).list())
                    .hasSize(4);
            work.from(Ship.class).list().forEach(ship -> ship.log().append(", arrived"));
            work.from(Booking.class).list().forEach(work::remove);
            some(2).forEach(work::add);
        });
        store.run(work -> {
            assertThat(work.from(Ship.class).list())
                    .filteredOn(ship -> ship.log().toString().endsWith("arrived"))
                    .hasSize(4);
            assertThat(work.from(Booking.class).count()).isEqualTo(4);
            assertThat(work.from(Shift.class).count()).isEqualTo(8);
        });

        store.run(work ->
                entities.forEach(entity -> work.from(entity.type()).list().forEach(work::remove)));
        store.run(work -> assertThat(entities)
                .extracting(ModelEntity::type)
                .allSatisfy(type -> assertThat(work.from(type).count()).isZero()));
    }

    @Test
    void itStandsInAChangeFileThatMakesItToo(@TempDir Path folder) {
        Model model = modelFor(database);
        SchemaChanges changes = SchemaChanges.of(folder);
        changes.write(changes.draft("everything", model, Wish.NONE));
        assertThat(changes.history().leadsTo(model)).isTrue();
        assertThat(changes.draft("more", model, Wish.NONE).nothingToDo()).isTrue();
        try (Store other = Trips.openAsDeclared(model, database.empty())) {
            String file = changes.history().changes().get(0).name();
            changes.history().show(file, DatabaseProduct.valueOf(database.name()), null).stream()
                    .flatMap(step -> step.statements().stream())
                    .forEach(one -> other.sql(one.sql()).withoutTransaction().execute());
            assertThat(other.schema().verify()).isEmpty();
        }
    }
}
