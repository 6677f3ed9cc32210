package io.bathra.bulk;

import io.bathra.error.Flaw;

/** A text stands for no value of its column. */
final class UnreadableText extends RuntimeException {
    private final transient Flaw flaw;

    UnreadableText(Flaw flaw) {
        super(flaw.reason());
        this.flaw = flaw;
    }

    Flaw flaw() {
        return flaw;
    }
}
