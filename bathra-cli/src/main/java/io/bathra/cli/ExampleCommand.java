package io.bathra.cli;

import io.bathra.error.BathraException;
import io.bathra.examples.Asking;
import io.bathra.examples.Associations;
import io.bathra.examples.BulkLoad;
import io.bathra.examples.ExistingSchema;
import io.bathra.examples.Graphs;
import io.bathra.examples.OptimisticLocking;
import io.bathra.examples.OverlayQueries;
import io.bathra.examples.Pivots;
import io.bathra.examples.PlainSql;
import io.bathra.examples.QuickStart;
import io.bathra.examples.TakingAway;
import io.bathra.examples.guide.CallWindow;
import io.bathra.examples.guide.TwoWays;
import io.bathra.examples.shards.ForeignPartitions;
import io.bathra.examples.shards.ShardedYards;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Runs the programs of the examples. */
@Command(
        name = "example",
        header = "Runs a program of the examples, or lists them.",
        description = "Runs a program of the examples on an embedded database, or lists them.",
        mixinStandardHelpOptions = true,
        footerHeading = "%nExamples:%n",
        footer = {"  bathra example", "  bathra example quick-start", "  bathra example bulk-load"})
final class ExampleCommand implements Runnable {
    private enum Example {
        QUICK_START("objects in, a plan, SQL; changes are found", QuickStart::main),
        ASSOCIATIONS("both sides stay in step, new objects come along", Associations::main),
        PIVOTS("many-to-many, ordered pairs, pairs that say more", Pivots::main),
        ASKING("typed conditions, records, groups, pages", Asking::main),
        GRAPHS("deep graphs in few statements, rows changed by query", Graphs::main),
        OVERLAY_QUERIES("pending objects are found before they may be stored", OverlayQueries::main),
        OPTIMISTIC_LOCKING("two people change one row; work that is tried again", OptimisticLocking::main),
        TAKING_AWAY("delete rules, orphans, refusals", TakingAway::main),
        BULK_LOAD("many rows, upserts, rejected rows, pairs in bulk", BulkLoad::main),
        PLAIN_SQL("SQL with named parameters, beside a unit of work", PlainSql::main),
        EXISTING_SCHEMA("a schema of others, with names of its own", ExistingSchema::main),
        SHARDED_YARDS("many databases, one question to all; what goes from one to another", ShardedYards::main),
        FOREIGN_PARTITIONS("old rows on another server of PostgreSQL; takes two URLs", ForeignPartitions::main),
        CALL_WINDOW("port calls over HTTP: JSON out and in, patches, a form; takes a port", CallWindow::main),
        TWO_WAYS("one list by a loop and at once, compared on a page; takes the page's file", TwoWays::main);

        private final String words;
        private final Program program;

        private interface Program {
            void run(String[] arguments);
        }

        Example(String words, Program program) {
            this.words = words;
            this.program = program;
        }

        /** The others bring all that they need along. */
        private boolean takesArguments() {
            return this == SHARDED_YARDS || this == FOREIGN_PARTITIONS || this == CALL_WINDOW || this == TWO_WAYS;
        }

        private String shownName() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    @Mixin
    private PageOption page = new PageOption();

    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Parameters(
            index = "0",
            arity = "0..1",
            paramLabel = "NAME",
            description = "Which one to run; lists all if left out.")
    private @Nullable String name;

    @Parameters(
            index = "1..*",
            paramLabel = "URL",
            description = "Databases for an example that takes several: for sharded-yards those of the "
                    + "directory and of each shard, for foreign-partitions two of PostgreSQL, all of them "
                    + "empty. For call-window, a port on which it stays open; for two-ways, the file for "
                    + "its page.")
    private List<String> arguments = List.of();

    @Override
    public void run() {
        if (name == null) {
            Arrays.stream(Example.values())
                    .forEach(example ->
                            spec.commandLine().getOut().printf("%-20s %s%n", example.shownName(), example.words));
            return;
        }
        Example chosen = Arrays.stream(Example.values())
                .filter(example -> example.shownName().equalsIgnoreCase(name))
                .findFirst()
                .orElseThrow(() -> new BathraException("there is no example '" + name + "', but there are "
                        + Arrays.stream(Example.values())
                                .map(Example::shownName)
                                .collect(Collectors.joining(", "))));
        if (!arguments.isEmpty() && !chosen.takesArguments()) {
            throw new BathraException(chosen.shownName() + " brings its database along, so '" + arguments.get(0)
                    + "' has no place; leave it out");
        }
        try {
            page.recorded("bathra example " + chosen.shownName(), () -> {
                chosen.program.run(arguments.toArray(String[]::new));
                return true;
            });
        } catch (IllegalArgumentException e) {
            throw chosen.takesArguments() ? new BathraException(chosen.shownName() + ": " + e.getMessage(), e) : e;
        }
    }
}
