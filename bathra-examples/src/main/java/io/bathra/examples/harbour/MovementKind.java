package io.bathra.examples.harbour;

/** Why a vessel moves in the harbour. */
public enum MovementKind {
    ARRIVAL,
    SHIFT,
    DEPARTURE
}
