package io.bathra.bench.day;

import static io.bathra.Terms.retrying;
import static io.bathra.bench.day.Harbour.BERTHS;
import static io.bathra.bench.day.Harbour.DEPARTING;
import static io.bathra.bench.day.Harbour.EXPECTED;
import static io.bathra.bench.day.Harbour.MORNING;
import static io.bathra.bench.day.Harbour.PILOTS;
import static io.bathra.query.Ask.link;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.Wanted;
import io.bathra.bench.day.Harbour.Account;
import io.bathra.bench.day.Harbour.Berth;
import io.bathra.bench.day.Harbour.Movement;
import io.bathra.bench.day.Harbour.Payment;
import io.bathra.bench.day.Harbour.Pilot;
import io.bathra.bench.day.Harbour.PortCall;
import io.bathra.bench.day.Harbour.Vessel;
import java.util.List;

/** The counter's work by Bathra. */
final class DeskByBathra implements Desk {
    private static final int ATTEMPTS = 10;

    private final Store store;

    DeskByBathra(Store store) {
        this.store = store;
    }

    @Override
    public void arrive(int number) {
        store.run(retrying(ATTEMPTS), work -> {
            List<Integer> badges = List.of(number % PILOTS, (number + 1) % PILOTS);
            work.read(Wanted.of(Vessel.class, Harbour.imo(number)), new Wanted(Pilot.class, badges));
            PortCall call = new PortCall();
            call.vessel.set(work.require(Vessel.class, Harbour.imo(number)));
            call.number = number;
            call.eta = MORNING.plusSeconds(number);
            call.berth.toKey(number % BERTHS);
            call.pilots.addAll(work.findAll(Pilot.class, badges));
            for (int line = 1; line <= Harbour.MOVEMENTS; line++) {
                call.movements.add(new Movement(line, "SHIFT"));
            }
            work.add(call);
        });
    }

    @Override
    public void pay(int number) {
        store.run(retrying(ATTEMPTS), work -> {
            Account account = work.from(Account.class)
                    .where(the(Account::number).is(number % Harbour.ACCOUNTS))
                    .forUpdate()
                    .one();
            account.cents += 100;
            account.payments++;
            Payment payment = new Payment();
            payment.account.set(account);
            payment.number = account.payments;
            payment.cents = 100;
            payment.made = MORNING.plusSeconds(number);
            work.add(payment);
        });
    }

    @Override
    public int status(int number) {
        return store.call(work -> {
            PortCall call = work.from(PortCall.class)
                    .where(link(PortCall::vessel).is(vessel(number)))
                    .where(the(PortCall::number).is(Harbour.early(number)))
                    .alongWith(PortCall::movements, PortCall::pilots)
                    .one();
            return call.movements.size() + call.pilots.size();
        });
    }

    @Override
    public int depart(int number) {
        return store.call(retrying(ATTEMPTS), work -> {
            List<PortCall> calls = work.from(PortCall.class)
                    .where(link(PortCall::berth).is(berth(number)))
                    .where(the(PortCall::status).is(EXPECTED))
                    .orderBy(the(PortCall::eta).ascending())
                    .limit(DEPARTING)
                    .list();
            for (PortCall call : calls) {
                call.status = Harbour.DEPARTED;
            }
            return calls.size();
        });
    }

    @Override
    public long count(int number) {
        return store.call(work -> work.from(PortCall.class)
                .where(link(PortCall::berth).is(berth(number)))
                .where(the(PortCall::status).is(EXPECTED))
                .count());
    }

    private static Vessel vessel(int number) {
        Vessel vessel = new Vessel();
        vessel.imo = Harbour.imo(number);
        return vessel;
    }

    private static Berth berth(int number) {
        Berth berth = new Berth();
        berth.number = number % BERTHS;
        return berth;
    }
}
