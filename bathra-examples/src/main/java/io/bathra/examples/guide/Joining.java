package io.bathra.examples.guide;

import static io.bathra.query.Ask.text;

import io.bathra.Outcome;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Vessel;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;

/** A unit in the transaction of a program that knows JDBC alone, which tells it how the transaction has ended. */
public final class Joining {
    private Joining() {}

    public static void main(String[] args) throws SQLException {
        String url = "jdbc:h2:mem:joining";
        try (Store store = Store.open(Harbour.MODEL, url)) {
            store.schema().createMissing();
            store.run(work -> work.add(new Vessel("9074729", "Nordlicht")));

            try (Connection connection = DriverManager.getConnection(url)) {
                connection.setAutoCommit(false);
                try (Statement statement = connection.createStatement();
                        UnitOfWork guest = store.join(connection)) {
                    statement.executeUpdate("update vessel set name = 'Nordlicht II'");
                    Vessel vessel = guest.from(Vessel.class)
                            .where(text(Vessel::imo).is("9074729"))
                            .one();
                    System.out.println("the guest reads " + vessel.name());
                    Vessel fresh = new Vessel("9321483", "Lunahav");
                    guest.add(fresh);
                    guest.commit(); // its last flush: what ends the transaction is not its own

                    connection.rollback();
                    guest.ended(Outcome.ROLLED_BACK);
                    System.out.println("after the rollback " + fresh.name() + " is " + guest.standing(fresh));

                    guest.commit();
                    connection.commit();
                    guest.ended(Outcome.COMMITTED);
                    System.out.println("after the commit " + fresh.name() + " is " + guest.standing(fresh));
                }
            }
        }
    }
}
