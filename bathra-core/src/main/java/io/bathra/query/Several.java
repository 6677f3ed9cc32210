package io.bathra.query;

/**
 * Any number of values that a query is given later. Made by {@link Ask#parameters}. Immutable.
 *
 * @param <V> the type of each of them
 * @param parameter what stands for them
 */
public record Several<V>(Term.Parameter parameter) {}
