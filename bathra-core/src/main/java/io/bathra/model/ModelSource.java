package io.bathra.model;

/**
 * Where tools find a model: a class that implements this, has a public constructor without parameters, and is named in
 * {@code META-INF/services/io.bathra.model.ModelSource}, or provided by a module.
 *
 * <pre>{@code
 * public final class HarbourSource implements ModelSource {
 *     public Model model() {
 *         return Harbour.MODEL;
 *     }
 * }
 * }</pre>
 */
public interface ModelSource {
    /** {@return the model} */
    Model model();
}
