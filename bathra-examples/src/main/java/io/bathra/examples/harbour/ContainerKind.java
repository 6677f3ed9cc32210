package io.bathra.examples.harbour;

/** What a container is built for. */
public enum ContainerKind {
    DRY,
    REEFER,
    TANK,
    OPEN_TOP
}
