package io.bathra;

import io.bathra.model.Difference;
import java.util.List;

/**
 * What {@link LiveSchema#createMissing()} did and what it left.
 *
 * @param statements the statements that were executed; empty when every table was there
 * @param missing what tables that were there already lack of what the model asks for
 * @param lookedAt what was looked for, in words: "14 tables, 61 columns, 12 foreign keys" and so on. Of checks, defaults
 *     and computed values, only whether they are there: what they say, and where generators stand, is for
 *     {@link LiveSchema#verify()}
 */
public record SchemaReport(List<String> statements, List<Difference> missing, String lookedAt) {
    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param statements the statements that were executed; empty when every table was there
     * @param missing what tables that were there already lack of what the model asks for
     * @param lookedAt what was looked for, in words: "14 tables, 61 columns, 12 foreign keys" and so on. Of checks,
     *     defaults and computed values, only whether they are there: what they say, and where generators stand, is
     *     for {@link LiveSchema#verify()}
     */
    public SchemaReport {
        statements = List.copyOf(statements);
        missing = List.copyOf(missing);
    }

    /** {@return whether every table was there, with all that the model asks for} */
    public boolean nothingToDo() {
        return statements.isEmpty() && missing.isEmpty();
    }

    /** Says what was done, what is missing, and what was looked at. */
    @Override
    public String toString() {
        return (nothingToDo() ? "nothing to do" : statements.size() + " statements executed, missing: " + missing)
                + "; looked at " + lookedAt;
    }
}
