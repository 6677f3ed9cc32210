package io.bathra.examples;

import static io.bathra.query.Ask.any;
import static io.bathra.query.Ask.count;
import static io.bathra.query.Ask.dateTime;
import static io.bathra.query.Ask.inside;
import static io.bathra.query.Ask.matching;
import static io.bathra.query.Ask.max;
import static io.bathra.query.Ask.no;
import static io.bathra.query.Ask.parameter;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.examples.harbour.CallStatus;
import io.bathra.examples.harbour.Certificate;
import io.bathra.examples.harbour.CertificateKind;
import io.bathra.examples.harbour.Dimensions;
import io.bathra.examples.harbour.Grade;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Licence;
import io.bathra.examples.harbour.Pilot;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import io.bathra.query.Query;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.List;
import java.util.stream.Stream;

/** Questions of every kind, and what answers them. */
public final class Asking {
    record Arrival(LocalDateTime eta, String vessel) {}

    record Month(int month, CallStatus status, long calls, LocalDateTime last) {}

    private Asking() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:asking")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> {
                season.movements().forEach(work::add); // calls, vessels, operators, berths and pilots come along
                season.calls().forEach(work::add);
                season.licences().forEach(work::add);
            });

            store.run(work -> {
                Query<PortCall> piloted = work.from(PortCall.class)
                        .where(
                                the(PortCall::eta).atLeast(parameter("from", LocalDateTime.class)),
                                text(PortCall::vessel, Vessel::name)
                                        .ignoringCase()
                                        .startsWith("nord"),
                                any(PortCall::pilots, the(Pilot::grade).is(Grade.FIRST)))
                        .orderBy(the(PortCall::eta).ascending());
                List<Arrival> arrivals = piloted.with("from", LocalDateTime.of(2026, 4, 1, 0, 0))
                        .as(Arrival::new, the(PortCall::eta), text(PortCall::vessel, Vessel::name))
                        .list();
                System.out.println(arrivals.size() + " arrivals, first " + arrivals.get(0));
                System.out.println(
                        piloted.with("from", LocalDateTime.of(2026, 4, 1, 0, 0)).sql());

                List<Month> months = work.from(PortCall.class)
                        .groupBy(dateTime(PortCall::eta).month(), the(PortCall::status))
                        .having(count().above(10L))
                        .orderBy(dateTime(PortCall::eta).month().ascending(), count().descending())
                        .as(
                                Month::new,
                                dateTime(PortCall::eta).month(),
                                the(PortCall::status),
                                count(),
                                max(the(PortCall::eta)))
                        .list();
                months.forEach(System.out::println);

                long silent = work.from(Vessel.class)
                        .where(
                                inside(Vessel::dimensions)
                                        .the(Dimensions::lengthMetres)
                                        .above(new BigDecimal("150")),
                                no(
                                        Vessel::certificates,
                                        the(Certificate::kind).is(CertificateKind.RADIO),
                                        the(Certificate::until).atLeast(LocalDate.of(2026, 4, 1))))
                        .count();
                System.out.println(silent + " long vessels without a valid radio certificate");

                Query<Vessel> byName = work.from(Vessel.class)
                        .orderBy(
                                the(Vessel::built).descending().nullsLast(),
                                the(Vessel::name).ascending());
                Page<Vessel> first = byName.page(25, null);
                String link = first.next().map(Mark::toString).orElse(""); // goes into a page's link, and comes back
                Page<Vessel> second = byName.page(25, Mark.parse(link));
                System.out.println(
                        first.items().get(0) + " on page 1, " + second.items().get(0) + " on page 2");

                System.out.println(work.from(Licence.class)
                                .where(the(Licence::until).below(LocalDate.of(2026, 7, 1)))
                                .beside(Pilot.class, matching(the(Licence::pilot, Pilot::id), the(Pilot::id)))
                                .count()
                        + " licences beside their pilots");

                try (Stream<PortCall> calls =
                        work.from(PortCall.class).where(the(PortCall::remark).isNotNull()).stream()) {
                    System.out.println(
                            calls.mapToInt(call -> call.number().length()).max().orElse(0)
                                    + " characters in the longest number of a call with a remark");
                }
            });
        }
    }
}
