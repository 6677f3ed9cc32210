package io.bathra.examples.shards;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.timeOrdered;
import static io.bathra.model.Declare.unique;

import io.bathra.model.Entity;
import io.bathra.model.Model;

/** What is in the directory, and what is on each shard. */
public final class Yards {
    public static final Model DIRECTORY =
            Model.of("directory", Entity.of(Placement.class, Placement::new).key(Placement::port, assigned()));

    public static final Model SHARD = Model.of(
                    "yards",
                    Entity.of(Box.class, Box::new)
                            .key(Box::id, timeOrdered())
                            .column(Box::number, required(), length(11), unique())
                            .column(Box::port, required(), length(40))
                            .column(Box::landed, required()),
                    Entity.of(Dispatch.class, Dispatch::new)
                            .key(Dispatch::id, timeOrdered())
                            .column(Dispatch::number, required(), length(11))
                            .column(Dispatch::destination, required(), length(40)),
                    Entity.of(Receipt.class, Receipt::new)
                            .key(Receipt::dispatch, assigned())
                            .column(Receipt::landed, required()))
            .commitTokens("commit_token");

    private Yards() {}
}
