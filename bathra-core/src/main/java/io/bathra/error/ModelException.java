package io.bathra.error;

import java.util.List;

/** A model that contradicts itself or its classes. Lists all faults at once, each with its place and its mend. */
public final class ModelException extends BathraException {
    /** All that is wrong with the declarations. */
    private final List<String> faults;

    /**
     * Made by the library, where it happens.
     *
     * @param model the model
     * @param faults all that is wrong
     */
    public ModelException(String model, List<String> faults) {
        super("model '" + model + "' has " + (faults.size() == 1 ? "a fault" : faults.size() + " faults") + ":\n  - "
                + String.join("\n  - ", faults));
        this.faults = List.copyOf(faults);
    }

    /** {@return one line per fault: place, what is wrong, what to write instead} */
    public List<String> faults() {
        return faults;
    }
}
