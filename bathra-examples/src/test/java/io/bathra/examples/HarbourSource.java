package io.bathra.examples;

import io.bathra.examples.harbour.Harbour;
import io.bathra.model.Model;
import io.bathra.model.ModelSource;

/** Where tests find the model of the harbour office. */
public final class HarbourSource implements ModelSource {
    @Override
    public Model model() {
        return Harbour.MODEL;
    }
}
