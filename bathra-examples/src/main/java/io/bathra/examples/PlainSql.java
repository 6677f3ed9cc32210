package io.bathra.examples;

import static io.bathra.Terms.retrying;

import io.bathra.Store;
import io.bathra.examples.harbour.CallStatus;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import io.bathra.query.Sql;
import java.util.List;
import java.util.stream.Stream;

/** What is said best in plain SQL: on the store, in a transaction without tracking, and in a unit of work. */
public final class PlainSql {
    record Traffic(String vessel, long calls) {}

    private static final Sql<Traffic> TRAFFIC = Sql.of("select v.name as vessel, count(*) as calls"
                    + " from port_call c join vessel v on v.id = c.vessel_id"
                    + " where c.status in (:statuses) group by v.name order by count(*) desc, v.name")
            .as(Traffic.class);

    private PlainSql() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL.commitTokens("commit_token"), "jdbc:h2:mem:plain")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> season.calls().forEach(work::add));

            List<Traffic> traffic = store.sql(TRAFFIC)
                    .with("statuses", List.of(CallStatus.EXPECTED, CallStatus.DEPARTED))
                    .list();
            System.out.println(traffic.size() + " vessels; most often here: " + traffic.get(0));

            long cancelled = store.transaction(retrying(5), tx -> {
                tx.sql("update vessel set name = upper(name) where id = :id")
                        .with("id", 1)
                        .execute();
                return tx.sql("update port_call set status = :status where vessel_id = :id")
                        .with("status", CallStatus.CANCELLED)
                        .with("id", 1)
                        .execute();
            });
            System.out.println(cancelled + " calls cancelled, once, whatever becomes of the reply to COMMIT");

            store.run(retrying(5), work -> {
                Vessel vessel = work.require(Vessel.class, 1L);
                System.out.println("before: " + vessel.name());
                work.sql("update vessel set name = lower(name)").execute();
                System.out.println("after: " + vessel.name()); // what is tracked follows
                List<Vessel> gulls = work.sql("select * from vessel where name like :pattern")
                        .with("pattern", "%gull")
                        .as(Vessel.class)
                        .list(); // tracked objects, like those of any query
                System.out.println(gulls.size() + " vessels are gulls, among them " + gulls.contains(vessel));
            });

            try (Stream<String> numbers = store.sql("select number from port_call").as(String.class).stream()) {
                System.out.println(numbers.filter(number -> number.endsWith("7"))
                                .count() + " numbers end with 7, counted row by row");
            }
        }
    }
}
