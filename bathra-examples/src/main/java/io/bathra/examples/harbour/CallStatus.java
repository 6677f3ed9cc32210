package io.bathra.examples.harbour;

/** How far a port call has come. */
public enum CallStatus {
    EXPECTED,
    ALONGSIDE,
    DEPARTED,
    CANCELLED
}
