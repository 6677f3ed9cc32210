package io.bathra.history;

import io.bathra.error.BathraException;

/** A step does not fit what there is before it. */
public final class StepMisfit extends BathraException {
    private static final long serialVersionUID = 1;

    StepMisfit(String message) {
        super(message);
    }
}
