package io.bathra.examples;

import io.bathra.examples.guide.TwoWays;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** All examples that need nothing around them, in one program, of which a native image can be made. */
public final class InOneImage {
    private InOneImage() {}

    public static void main(String[] args) throws IOException {
        String[] none = {};
        QuickStart.main(none);
        Associations.main(none);
        Pivots.main(none);
        Asking.main(none);
        Graphs.main(none);
        OverlayQueries.main(none);
        OptimisticLocking.main(none);
        TakingAway.main(none);
        BulkLoad.main(none);
        PlainSql.main(none);
        ExistingSchema.main(none);
        Path page = Files.createTempFile("two-ways", ".html");
        TwoWays.main(new String[] {page.toString()});
        System.out.println("a page with "
                + Files.readAllLines(page).stream()
                        .filter(line -> line.contains("<section"))
                        .count() + " sections");
        Files.delete(page);
    }
}
