package io.bathra.sql;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** One part of what a dialect knows, with the dialect's names at hand. */
abstract class DialectPart {
    final Dialect dialect;

    DialectPart(Dialect dialect) {
        this.dialect = dialect;
    }

    final @Nullable String schema() {
        return dialect.schema();
    }

    final String quote(String name) {
        return dialect.quote(name);
    }

    final String qualified(String name) {
        return dialect.qualified(name);
    }

    final String names(List<String> names) {
        return dialect.names(names);
    }

    final boolean goesUnquoted(String name) {
        return dialect.goesUnquoted(name);
    }

    static String textLiteral(String text) {
        return Names.textLiteral(text);
    }
}
