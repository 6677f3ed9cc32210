package io.bathra.examples.shards;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.query.Ask.the;

import io.bathra.Isolation;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.time.Instant;
import java.util.List;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicInteger;

/** One table whose old rows are on another server: PostgreSQL's partitions, over its foreign tables. */
public final class ForeignPartitions {
    public static final Model MODEL = Model.of(
            "passages",
            Entity.of(Passage.class, Passage::new)
                    .key(Passage::id, assigned())
                    .column(Passage::at, required())
                    .column(Passage::vessel, required(), length(40)));

    /** The same on the second server, where it has another table. */
    public static final Model ON_SECOND = Model.of(
            "archive",
            Entity.of(Passage.class, Passage::new)
                    .table("passage_2025")
                    .key(Passage::id, assigned())
                    .column(Passage::at, required())
                    .column(Passage::vessel, required(), length(40)));

    private static final Instant LAST_YEAR = Instant.parse("2025-08-01T10:00:00Z");
    private static final Instant THIS_YEAR = Instant.parse("2026-08-01T10:00:00Z");

    private ForeignPartitions() {}

    /**
     * @param args the URLs of two empty databases of PostgreSQL, such as {@code
     *     jdbc:postgresql://127.0.0.1:5432/front?user=office}; the first server has to reach the second one
     */
    public static void main(String[] args) {
        if (args.length != 2) {
            throw new IllegalArgumentException("give the URLs of two empty databases of PostgreSQL, the one with this"
                    + " year's rows first, such as jdbc:postgresql://127.0.0.1:5432/front?user=office");
        }
        try (Store front = Store.open(MODEL, args[0]);
                Store archive = Store.open(ON_SECOND, args[1])) {
            partition(front, archive);
            front.run(work -> {
                work.add(new Passage(UUID.randomUUID(), LAST_YEAR, "Nordgull"));
                work.add(new Passage(UUID.randomUUID(), THIS_YEAR, "Ternros"));
            });
            List<String> vessels = front.call(work -> work.from(Passage.class)
                    .orderBy(the(Passage::at).ascending())
                    .as(the(Passage::vessel))
                    .list());
            System.out.println("one question finds both: " + vessels);
            String plan = front.call(work -> work.from(Passage.class)
                    .where(the(Passage::at).below(LAST_YEAR))
                    .explain());
            System.out.println("where it looks for last year's: " + plan);
            System.out.println("verify() says: " + front.schema().verify());
            System.out.println("left on the second server by work that was begun twice: "
                    + left(front, archive, "Skua", ForeignPartitions::addWithNewKey));
            UUID key = UUID.randomUUID();
            System.out.println("with a key from outside of the work: "
                    + left(front, archive, "Lomvi", (work, vessel) -> addOnce(work, key, vessel)));
        }
    }

    private interface Adding {
        void add(UnitOfWork work, String vessel);
    }

    private static void addWithNewKey(UnitOfWork work, String vessel) {
        work.add(new Passage(UUID.randomUUID(), LAST_YEAR, vessel));
    }

    private static void addOnce(UnitOfWork work, UUID key, String vessel) {
        if (work.find(Passage.class, key).isEmpty()) {
            work.add(new Passage(key, LAST_YEAR, vessel));
        }
    }

    /**
     * The second server commits before the first one has looked whether it may. Somebody comes in between here, so
     * that it may not, and the work is begun again.
     */
    private static long left(Store front, Store archive, String vessel, Adding adding) {
        Terms serializable = Terms.retrying(3).isolation(Isolation.SERIALIZABLE);
        AtomicInteger attempts = new AtomicInteger();
        front.run(serializable, work -> {
            countThisYear(work);
            work.add(new Passage(UUID.randomUUID(), THIS_YEAR, vessel));
            adding.add(work, vessel);
            work.flush();
            if (attempts.incrementAndGet() == 1) {
                front.run(serializable, other -> {
                    countThisYear(other);
                    other.add(new Passage(UUID.randomUUID(), THIS_YEAR, "somebody else"));
                });
            }
        });
        return archive.call(work ->
                work.from(Passage.class).where(the(Passage::vessel).is(vessel)).count());
    }

    private static long countThisYear(UnitOfWork work) {
        return work.from(Passage.class)
                .where(the(Passage::at).atLeast(THIS_YEAR))
                .count();
    }

    /** Makes the table on the first server, with this year's rows there and last year's on the second one. */
    public static void partition(Store front, Store archive) {
        record Server(String host, int port, String name, String person) {}
        Server second = archive.sql("select host(inet_server_addr()) as host, inet_server_port() as port,"
                        + " current_database() as name, current_user as person")
                .as(Server.class)
                .one();
        archive.script("""
                create table passage_2025 (
                  id uuid primary key, at timestamp with time zone not null, vessel varchar(40) not null);
                """);
        front.script("""
                create extension if not exists postgres_fdw;
                create server archive foreign data wrapper postgres_fdw
                  options (host '%s', port '%s', dbname '%s');
                create user mapping for current_user server archive options (user '%s');
                create table passage (
                  id uuid not null, at timestamp with time zone not null, vessel varchar(40) not null)
                  partition by range (at);
                create table passage_2026 partition of passage (primary key (id))
                  for values from ('2026-01-01') to ('2027-01-01');
                create foreign table passage_2025 partition of passage
                  for values from ('2025-01-01') to ('2026-01-01') server archive;
                """.formatted(second.host(), second.port(), second.name(), second.person()));
    }
}
