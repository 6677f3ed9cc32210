package io.bathra;

import io.bathra.schema.Difference;
import java.util.List;

/**
 * What {@link LiveSchema#createMissing()} did and what it left.
 *
 * @param statements the statements that were executed; empty when every table was there
 * @param lacking what tables that were there already lack of what the model asks for
 */
public record SchemaReport(List<String> statements, List<Difference> lacking) {
    public SchemaReport {
        statements = List.copyOf(statements);
        lacking = List.copyOf(lacking);
    }

    /** Whether every table was there, with all that the model asks for. */
    public boolean nothingToDo() {
        return statements.isEmpty() && lacking.isEmpty();
    }
}
