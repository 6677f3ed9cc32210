package io.bathra.bench.day;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;

import io.bathra.Store;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.time.LocalDateTime;

/** What the counter works with: the model, and what is there in the morning. */
final class Harbour {
    static final int VESSELS = 1_000;
    static final int PILOTS = 50;
    static final int BERTHS = 40;
    static final int ACCOUNTS = 10;

    /** Calls of each vessel that are there in the morning; they depart in the course of the day. */
    static final int CALLS = 20;

    static final int MOVEMENTS = 3;
    static final int DEPARTING = 10;
    static final String EXPECTED = "EXPECTED";
    static final String DEPARTED = "DEPARTED";
    static final LocalDateTime MORNING = LocalDateTime.of(2026, 4, 1, 6, 30);

    static final class Berth {
        Integer number;

        Integer number() {
            return number;
        }
    }

    static final class Vessel {
        String imo;
        String name;

        String imo() {
            return imo;
        }

        String name() {
            return name;
        }
    }

    static final class Pilot {
        Integer badge;
        String name;

        Integer badge() {
            return badge;
        }

        String name() {
            return name;
        }
    }

    static final class PortCall {
        final Link<Vessel> vessel = Link.empty();
        int number;
        LocalDateTime eta;
        String status = EXPECTED;
        int revision;
        final Link<Berth> berth = Link.empty();
        final Links<Movement> movements = Links.empty();
        final Links<Pilot> pilots = Links.empty();

        Link<Vessel> vessel() {
            return vessel;
        }

        int number() {
            return number;
        }

        LocalDateTime eta() {
            return eta;
        }

        String status() {
            return status;
        }

        int revision() {
            return revision;
        }

        Link<Berth> berth() {
            return berth;
        }

        Links<Movement> movements() {
            return movements;
        }

        Links<Pilot> pilots() {
            return pilots;
        }
    }

    static final class Movement {
        final Link<PortCall> call = Link.empty();
        int line;
        String kind;
        LocalDateTime due;

        Movement() {}

        Movement(int line, String kind) {
            this.line = line;
            this.kind = kind;
            this.due = MORNING.plusMinutes(line);
        }

        Link<PortCall> call() {
            return call;
        }

        int line() {
            return line;
        }

        String kind() {
            return kind;
        }

        LocalDateTime due() {
            return due;
        }
    }

    /** It counts its payments, so that each has a number of its own. */
    static final class Account {
        Integer number;
        long cents;
        int payments;

        Integer number() {
            return number;
        }
    }

    static final class Payment {
        final Link<Account> account = Link.empty();
        int number;
        long cents;
        LocalDateTime made;

        Link<Account> account() {
            return account;
        }

        int number() {
            return number;
        }

        LocalDateTime made() {
            return made;
        }
    }

    static final Model MODEL = Model.of(
            "counter",
            Entity.of(Berth.class, Berth::new).key(Berth::number, assigned()),
            Entity.of(Vessel.class, Vessel::new)
                    .key(Vessel::imo, assigned())
                    .column(Vessel::imo, length(7))
                    .column(Vessel::name, required(), length(40)),
            Entity.of(Pilot.class, Pilot::new)
                    .key(Pilot::badge, assigned())
                    .column(Pilot::name, required(), length(40)),
            Entity.of(PortCall.class, PortCall::new)
                    .key(PortCall::vessel, PortCall::number)
                    .column(PortCall::eta, required())
                    .column(PortCall::status, required(), length(10))
                    .version(PortCall::revision)
                    .link(PortCall::berth, required())
                    .links(PortCall::movements, Movement::call)
                    .pivot(PortCall::pilots)
                    .index(PortCall::berth, PortCall::status, PortCall::eta),
            Entity.of(Movement.class, Movement::new)
                    .key(Movement::call, Movement::line)
                    .column(Movement::kind, required(), length(10))
                    .column(Movement::due, required()),
            Entity.of(Account.class, Account::new).key(Account::number, assigned()),
            Entity.of(Payment.class, Payment::new)
                    .key(Payment::account, Payment::number)
                    .column(Payment::made, required()));

    private Harbour() {}

    static String imo(int number) {
        return String.valueOf(9_000_000 + number % VESSELS);
    }

    /** The number of a call that is there in the morning. */
    static int early(int number) {
        return -1 - number % CALLS;
    }

    /** Makes the tables, and fills them. */
    static void open(Store store) {
        store.schema().createMissing();
        store.run(work -> {
            for (int i = 0; i < BERTHS; i++) {
                Berth berth = new Berth();
                berth.number = i;
                work.add(berth);
            }
            for (int i = 0; i < PILOTS; i++) {
                Pilot pilot = new Pilot();
                pilot.badge = i;
                pilot.name = "Pilot " + i;
                work.add(pilot);
            }
            for (int i = 0; i < ACCOUNTS; i++) {
                Account account = new Account();
                account.number = i;
                work.add(account);
            }
        });
        for (int first = 0; first < VESSELS; first += 100) {
            int from = first;
            store.run(work -> {
                for (int i = from; i < from + 100; i++) {
                    Vessel vessel = new Vessel();
                    vessel.imo = imo(i);
                    vessel.name = "Vessel " + i;
                    work.add(vessel);
                    for (int n = 0; n < CALLS; n++) {
                        PortCall call = new PortCall();
                        call.vessel.set(vessel);
                        call.number = early(n);
                        call.eta = MORNING.minusMinutes(i);
                        call.berth.set(work.require(Berth.class, (i + n) % BERTHS));
                        call.pilots.add(work.require(Pilot.class, (i + n) % PILOTS));
                        call.movements.add(new Movement(1, "ARRIVAL"));
                        work.add(call);
                    }
                }
            });
        }
    }
}
