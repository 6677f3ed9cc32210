package io.bathra.examples.harbour;

import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

/**
 * A paper that a ship carries: a part of the ship, which nobody else refers to.
 *
 * @param until the last day on which it is valid; null for one without end
 */
public record Certificate(
        CertificateKind kind, String number, @Nullable LocalDate until) {}
