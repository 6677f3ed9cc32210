package io.bathra.examples.guide;

import static io.bathra.bulk.On.on;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.bulk.BulkResult;
import io.bathra.examples.harbour.CallStatus;
import io.bathra.examples.harbour.Container;
import io.bathra.examples.harbour.Containers;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Operator;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import java.util.List;

/** The same store on four levels. */
public final class Levels {
    record Traffic(String status, long calls) {}

    private Levels() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:levels")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> season.calls().forEach(work::add));

            List<Traffic> traffic = store.sql("select status, count(*) as calls from port_call group by status")
                    .as(Traffic.class)
                    .list();
            System.out.println(traffic.size() + " kinds of calls");

            store.transaction(tx -> {
                tx.sql("update vessel set name = upper(name)").execute();
                return tx.sql("delete from port_call where status = :status")
                        .with("status", CallStatus.CANCELLED)
                        .execute();
            });

            store.run(work -> {
                PortCall call = work.from(PortCall.class)
                        .where(the(PortCall::status).is(CallStatus.EXPECTED))
                        .orderBy(the(PortCall::eta).ascending())
                        .first()
                        .orElseThrow();
                call.vessel().get().rename("Nordlicht");
                call.pilots().clear();
            });

            List<Operator> operators =
                    store.call(work -> work.from(Operator.class).list());
            BulkResult stored =
                    store.bulk(Container.class).upsert(Containers.of(operators, 5_000), on(Container::serial));
            System.out.println(stored);
        }
    }
}
