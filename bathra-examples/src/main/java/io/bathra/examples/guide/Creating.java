package io.bathra.examples.guide;

import io.bathra.DatabaseProduct;
import io.bathra.SchemaReport;
import io.bathra.Store;
import io.bathra.examples.harbour.Harbour;
import io.bathra.model.Difference;
import java.util.List;

/** Tables printed, created, compared. */
public final class Creating {
    private Creating() {}

    public static void main(String[] args) {
        DatabaseProduct.POSTGRESQL.createStatements(Harbour.MODEL).forEach(System.out::println);

        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:creating")) {
            SchemaReport report = store.schema().createMissing();
            System.out.println(report.statements().size() + " statements");
            System.out.println("again: " + store.schema().createMissing());

            store.sql("alter table container drop column length_feet").execute();
            List<Difference> differences = store.schema().verify();
            differences.forEach(System.out::println);

            store.schema().recreate("harbour"); // drops all tables with their rows, so it wants the model's name
            System.out.println("differences now: " + store.schema().verify().size());
        }
    }
}
