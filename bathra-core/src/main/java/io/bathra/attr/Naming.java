package io.bathra.attr;

import java.util.Locale;

/** Makes the names of tables and columns of those of classes, fields and record components. */
@FunctionalInterface
public interface Naming {
    /** {@code portCall}, {@code PortCall} and {@code PORTCall} become {@code port_call}: what convention assumes. */
    Naming SNAKE_CASE = name -> name.replaceAll("([\\p{Lu}]+)([\\p{Lu}][\\p{Ll}])", "$1_$2")
            .replaceAll("([\\p{Ll}\\d])(\\p{Lu})", "$1_$2")
            .toLowerCase(Locale.ROOT);

    /**
     * {@return the name in SQL, unquoted}
     *
     * @param javaName the simple name of a class, or the name of a field or component; for a link, the field's name
     * with
     *     {@code Id} behind it
     */
    String inSql(String javaName);
}
