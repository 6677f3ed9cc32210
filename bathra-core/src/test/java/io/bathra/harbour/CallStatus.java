package io.bathra.harbour;

public enum CallStatus {
    EXPECTED,
    ALONGSIDE,
    DEPARTED
}
