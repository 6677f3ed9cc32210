package io.bathra.json.format;

import org.jspecify.annotations.Nullable;

/** A text is no JSON, or is deeper or longer than what is allowed. */
public final class MalformedJson extends RuntimeException {
    private static final long serialVersionUID = 1;

    /**
     * @param message what is wrong, and where
     * @param cause what was behind it; null for nothing
     */
    public MalformedJson(String message, @Nullable Throwable cause) {
        super(message, cause);
    }
}
