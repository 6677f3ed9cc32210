package io.bathra.examples.harbour;

import java.math.BigDecimal;
import org.jspecify.annotations.Nullable;

/** How large a ship is; stored as columns of its row. */
public record Dimensions(
        @Nullable BigDecimal lengthMetres,
        @Nullable BigDecimal beamMetres,
        @Nullable BigDecimal draughtMetres) {}
