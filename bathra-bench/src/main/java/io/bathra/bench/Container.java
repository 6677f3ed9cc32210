package io.bathra.bench;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;

import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.math.BigDecimal;
import java.time.LocalDateTime;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** An entity of five columns, one of them unique, with a key that the database draws. */
final class Container {
    static final Model MODEL = Model.of(
            "containers",
            Entity.of(Container.class, Container::new)
                    .column(Container::serial, required(), length(12), unique())
                    .column(Container::owner, required(), length(40))
                    .column(Container::tonnes, digits(8, 2)));

    @Nullable
    Long id;

    String serial = "";
    String owner = "";
    int slot;
    BigDecimal tonnes = BigDecimal.ZERO;
    LocalDateTime seen = LocalDateTime.MIN;

    Container() {}

    Container(int number) {
        serial = "BATU" + (1_000_000 + number);
        owner = "North Quay Line " + number % 50;
        slot = number % 5_000;
        tonnes = BigDecimal.valueOf(number % 40_000, 2);
        seen = LocalDateTime.of(2026, 4, 1, 6, 0).plusSeconds(number);
    }

    /** Containers of these numbers, made as they are read. */
    static Stream<Container> some(int from, int to) {
        return IntStream.range(from, to).mapToObj(Container::new);
    }

    /** The same, of which one in so many is heavier than it was. */
    static Stream<Container> changed(int from, int to, int oneIn) {
        return some(from, to).peek(container -> {
            if (container.slot % oneIn == 0) {
                container.tonnes = container.tonnes.add(BigDecimal.ONE);
            }
        });
    }

    String serial() {
        return serial;
    }

    String owner() {
        return owner;
    }

    BigDecimal tonnes() {
        return tonnes;
    }
}
