package io.bathra.input;

import io.bathra.error.Flaw;

/** A text stands for no value of its column. */
public final class UnreadableText extends RuntimeException {
    private static final long serialVersionUID = 1;

    private final transient Flaw flaw;

    UnreadableText(Flaw flaw) {
        super(flaw.reason(), null, false, false);
        this.flaw = flaw;
    }

    /** What is wrong with it. */
    public Flaw flaw() {
        return flaw;
    }
}
