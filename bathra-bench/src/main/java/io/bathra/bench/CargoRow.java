package io.bathra.bench;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;

/** What is read of a cargo without an entity. */
record CargoRow(
        long id,
        String serial,
        String note,
        int kilos,
        double volume,
        boolean sealed,
        BigDecimal price,
        LocalDate packed,
        LocalDateTime seen) {}
