package io.bathra.cli.load;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What has become of the lines of a file.
 *
 * @param lines how many were read, the header not counted
 * @param skipped how many had their row there already, or stood in the file before
 * @param rejected how many could not be stored
 * @param pairsAdded how many pairs of pivots are there now that were not
 * @param pairsSkipped how many were there already
 * @param rejectFile where rejected lines are; null for none
 * @param dryRun whether all of it was taken back
 * @param ways how rows were given to the database
 */
public record LoadResult(
        String file,
        String entity,
        long lines,
        long inserted,
        long updated,
        long unchanged,
        long skipped,
        long rejected,
        long pairsAdded,
        long pairsSkipped,
        @Nullable String rejectFile,
        boolean dryRun,
        double seconds,
        List<String> ways) {}
