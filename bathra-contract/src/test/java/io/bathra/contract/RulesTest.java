package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.query.Ask.allOf;
import static io.bathra.query.Ask.anyOf;
import static io.bathra.query.Ask.not;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import io.bathra.FlushReport;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.CheckViolation;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.ModelException;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Versions, stamps, checks and indexes. */
@OnEachDatabase
class RulesTest {
    enum Kind {
        BULK,
        BOX
    }

    static final class Booking {
        private Long id;
        private String code;
        private Kind kind = Kind.BOX;
        private LocalDateTime from = LocalDateTime.of(2026, 4, 1, 6, 0);
        private LocalDateTime until;
        private boolean paid;
        private int revision;
        private Instant created;
        private LocalDateTime updated;

        Long id() {
            return id;
        }

        String code() {
            return code;
        }

        Kind kind() {
            return kind;
        }

        LocalDateTime from() {
            return from;
        }

        LocalDateTime until() {
            return until;
        }

        boolean paid() {
            return paid;
        }

        int revision() {
            return revision;
        }

        Instant created() {
            return created;
        }

        LocalDateTime updated() {
            return updated;
        }

        static Booking of(String code) {
            Booking booking = new Booking();
            booking.code = code;
            return booking;
        }
    }

    static final Entity<?>[] ENTITIES = {
        Entity.of(Booking.class, Booking::new)
                .column(Booking::code, required(), length(12))
                .version(Booking::revision)
                .stampOnInsert(Booking::created)
                .stampOnUpdate(Booking::updated)
                .index(Booking::kind, Booking::from)
                .index("by code", Booking::code)
                .unique("one of a kind", Booking::id, Booking::code)
                .check(the(Booking::until).above(the(Booking::from)))
                .check(anyOf(
                        the(Booking::kind).in(Kind.BOX, Kind.BULK),
                        allOf(the(Booking::paid).is(true), the(Booking::until).isNotNull())))
                .check("no odd codes", not(text(Booking::code).startsWith("it's \\ 100%_")))
                .check(the(Booking::from).atLeast(LocalDateTime.of(2020, 1, 1, 0, 0)))
    };

    static final Model MODEL = Model.of("bookings", ENTITIES);

    private static final Instant FIRST = Instant.parse("2026-04-01T10:00:00.123456Z");
    private static final Instant SECOND = FIRST.plusSeconds(60);

    private final Store store;

    RulesTest(TestDatabase database) {
        store = Trips.open(MODEL, database.empty());
        store.schema().createMissing();
    }

    private Store at(Instant time) {
        return store.withClock(Clock.fixed(time, ZoneOffset.UTC));
    }

    @Test
    void whatAFlushHasFilledInGoesBackWithIt() {
        Store own = store.withClock(Clock.fixed(FIRST, ZoneOffset.UTC));
        own.schema().createMissing();
        Booking stored = Booking.of("stored");
        own.run(work -> work.add(stored));
        LocalDateTime updated = stored.updated;
        Store later = own.withClock(Clock.fixed(SECOND, ZoneOffset.UTC));
        try (UnitOfWork work = later.begin()) {
            Booking fresh = Booking.of("fresh");
            work.add(fresh);
            Booking known = work.require(Booking.class, stored.id);
            known.code = "changed";
            work.flush();
            assertThat(fresh.created).isEqualTo(SECOND);
            assertThat(known.updated).isNotEqualTo(updated);
            work.rollback();
            assertThat(fresh.created).isNull();
            assertThat(fresh.updated).isNull();
            assertThat(fresh.id).isNull();
            assertThat(known.updated).isEqualTo(updated);
            assertThat(known.revision).isEqualTo(stored.revision);
            work.flush();
            assertThat(fresh.created).isEqualTo(SECOND);
            work.rollback();
            work.discard();
        }
        try (UnitOfWork work = later.begin()) {
            Booking piece = Booking.of("piece");
            Booking known = work.require(Booking.class, stored.id);
            assertThatThrownBy(() -> work.run(in -> {
                        in.add(piece);
                        known.code = "tried";
                        in.flush();
                        throw new IllegalStateException();
                    }))
                    .isInstanceOf(IllegalStateException.class);
            assertThat(piece.created).isNull();
            assertThat(known.updated).isEqualTo(updated);
            assertThat(known.code).isEqualTo("stored");
            var place = work.savepoint();
            known.code = "again";
            work.flush();
            place.rollback();
            assertThat(known.updated).isEqualTo(updated);
            work.commit();
        }
    }

    @Test
    void timesAreStampedByTheStoresClock() {
        Booking booking = Booking.of("A");
        at(FIRST).run(work -> work.add(booking));
        assertThat(booking.created).isEqualTo(FIRST);
        assertThat(booking.updated).isEqualTo(LocalDateTime.ofInstant(FIRST, ZoneOffset.UTC));
        at(SECOND).run(work -> {
            Booking read = work.from(Booking.class).one();
            assertThat(read.created).isEqualTo(FIRST);
            assertThat(work.commit().total().updated())
                    .as("nothing else has changed")
                    .isZero();
            read.paid = true;
            work.flush();
            assertThat(read.created).isEqualTo(FIRST);
            assertThat(read.updated).isEqualTo(LocalDateTime.ofInstant(SECOND, ZoneOffset.UTC));
            assertThat(work.standing(read)).isEqualTo(Standing.CLEAN);
        });
    }

    @Test
    void versionsGrowWithEachUpdateAndLosersAreNamed() {
        for (int rows : new int[] {1, 5}) {
            List<Booking> bookings =
                    IntStream.range(0, rows).mapToObj(i -> Booking.of("B" + i)).toList();
            store.run(work -> bookings.forEach(work::add));
            try (UnitOfWork work = store.begin()) {
                List<Booking> mine = work.from(Booking.class).list();
                mine.forEach(booking -> booking.code = "mine");
                work.commit();
                assertThat(mine).extracting(Booking::revision).containsOnly(1);

                store.run(other -> other.require(Booking.class, mine.get(0).id).code = "theirs");
                mine.forEach(booking -> booking.code = "mine again");
                ConcurrentChangeException lost = catchThrowableOfType(ConcurrentChangeException.class, work::flush);
                assertThat(lost.rows())
                        .containsExactly("Booking " + mine.get(0).id + " (version 1 was read, but it has 2 now)");
                assertThat(mine).extracting(Booking::revision).as("as before").containsOnly(1);
                mine.forEach(work::remove);
                assertThatThrownBy(work::flush)
                        .isInstanceOf(ConcurrentChangeException.class)
                        .hasMessageContaining("cannot delete Booking " + mine.get(0).id);
            }
            store.run(work -> {
                assertThat(work.from(Booking.class)
                                .where(the(Booking::code).is("mine again"))
                                .count())
                        .isZero();
                work.from(Booking.class).list().forEach(work::remove);
                assertThat(work.flush().total()).isEqualTo(new FlushReport.Rows(0, 0, rows));
            });
        }
    }

    @Test
    void theDatabaseHoldsEveryRowToTheChecks() {
        try (UnitOfWork work = store.begin()) {
            Booking booking = Booking.of("C");
            booking.until = booking.from.minusHours(1);
            work.add(booking);
            CheckViolation violation = catchThrowableOfType(CheckViolation.class, work::flush);
            assertThat(violation.place().entity()).isEqualTo("Booking");
            assertThat(violation.place().attributes()).containsExactly("until", "from");
            booking.until = booking.from.plusHours(1);
            work.flush();
            booking.from = LocalDateTime.of(2019, 12, 31, 23, 59, 59);
            assertThatThrownBy(work::flush).isInstanceOf(CheckViolation.class);
            booking.from = LocalDateTime.of(2020, 1, 1, 0, 0);
            booking.code = "it's \\ 100%_";
            assertThatThrownBy(work::flush).isInstanceOf(CheckViolation.class).hasMessageContaining("no odd codes");
            booking.code = "it's \\ 100%";
            work.commit();
        }
    }

    @Test
    void checksAndIndexesStandInTheTables() {
        assertThat(store.schema().statements())
                .anyMatch(
                        sql -> sql.contains("constraint booking_until_from_check check (") && sql.contains("until > "))
                .anyMatch(sql -> sql.contains("no odd codes") && sql.contains("one of a kind"))
                .anyMatch(sql -> sql.startsWith("create index") && sql.contains("by code"))
                .anyMatch(sql -> sql.startsWith("create index booking_kind_from_index on booking (kind, "));
    }

    @Test
    void whatARuleCannotSpeakOfIsAFault() {
        assertThatThrownBy(() -> Model.of(
                        "faulty",
                        Entity.of(Booking.class, Booking::new)
                                .version(Booking::revision)
                                .version(Booking::id)
                                .stampOnInsert(Booking::created)))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("Booking.id: is a second version; declare one");
    }
}
