package io.bathra.model;

/**
 * An option of a to-many association, made by one of the words of {@link Declare}.
 *
 * @param <C> the entity at the other end
 */
public sealed interface LinksOption<C> permits AssociationOption, Options.OrderedBy, Options.RemoveOrphans {}
