package io.bathra;

import io.bathra.model.Difference;
import java.util.List;

/**
 * What {@link LiveSchema#createMissing()} did and what it left.
 *
 * @param statements the statements that were executed; empty when every table was there
 * @param missing what tables that were there already lack of what the model asks for
 */
public record SchemaReport(List<String> statements, List<Difference> missing) {
    public SchemaReport {
        statements = List.copyOf(statements);
        missing = List.copyOf(missing);
    }

    /** Whether every table was there, with all that the model asks for. */
    public boolean nothingToDo() {
        return statements.isEmpty() && missing.isEmpty();
    }
}
