package io.bathra.model;

import java.util.Locale;

/** The convention for names. */
final class Naming {
    private Naming() {}

    /** {@code portCall}, {@code PortCall} and {@code PORTCall} become {@code port_call}. */
    static String snakeCase(String name) {
        return name.replaceAll("([\\p{Lu}]+)([\\p{Lu}][\\p{Ll}])", "$1_$2")
                .replaceAll("([\\p{Ll}\\d])(\\p{Lu})", "$1_$2")
                .toLowerCase(Locale.ROOT);
    }
}
