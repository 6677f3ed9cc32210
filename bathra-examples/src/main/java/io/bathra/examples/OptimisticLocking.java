package io.bathra.examples;

import static io.bathra.Terms.retrying;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.lang.invoke.MethodHandles;
import org.jspecify.annotations.Nullable;

/** Two people change the same row. A version tells, nobody's change is lost, and work can be done again by itself. */
public final class OptimisticLocking {
    /** How much bunker oil is left at a pier. */
    static final class Tank {
        private @Nullable Long id;
        private String pier = "";
        private int tonnes;
        private String note = "";
        private int revision;

        Tank() {}

        Tank(String pier, int tonnes) {
            this.pier = pier;
            this.tonnes = tonnes;
        }

        String pier() {
            return pier;
        }

        int revision() {
            return revision;
        }

        void take(int some) {
            if (some > tonnes) {
                throw new IllegalArgumentException("only " + tonnes + " tonnes are left");
            }
            tonnes -= some;
        }

        void remark(String newNote) {
            note = newNote;
        }

        @Override
        public String toString() {
            return tonnes + " tonnes, '" + note + "', revision " + revision;
        }
    }

    static final Model MODEL = Model.of(
            "bunker",
            MethodHandles.lookup(),
            Entity.of(Tank.class, Tank::new)
                    .column(Tank::pier, required(), length(10), unique())
                    .version(Tank::revision));

    private OptimisticLocking() {}

    public static void main(String[] args) {
        try (Store store = Store.open(MODEL, "jdbc:h2:mem:bunker")) {
            store.schema().createMissing();
            store.run(work -> work.add(new Tank("P1", 500)));

            try (UnitOfWork mine = store.begin()) {
                Tank tank = mine.require(Tank.class, 1L);
                tank.remark("valve checked");
                store.run(theirs -> theirs.require(Tank.class, 1L).take(100));
                try {
                    mine.flush();
                } catch (ConcurrentChangeException lost) {
                    System.out.println(lost.rows());
                    System.out.println(lost.conflicts());
                    mine.rebase(); // they have changed another attribute, so both changes can stay
                }
                mine.commit();
                System.out.println(tank);
            }

            int[] attempts = new int[1];
            store.run(retrying(5), work -> {
                attempts[0]++;
                Tank tank = work.require(Tank.class, 1L);
                if (attempts[0] == 1) {
                    store.run(theirs -> theirs.require(Tank.class, 1L).take(50)); // somebody is faster, once
                }
                tank.take(200);
            });
            System.out.println("done at attempt " + attempts[0] + ": "
                    + store.call(work -> work.require(Tank.class, 1L).toString()));
        }
    }
}
