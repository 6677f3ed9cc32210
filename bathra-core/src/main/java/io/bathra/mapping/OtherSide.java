package io.bathra.mapping;

/** An association whose foreign key the entity at the other end holds. */
public sealed interface OtherSide permits LinksAttribute, InverseAttribute {
    /** The link that holds the foreign key. */
    LinkAttribute otherEnd();

    String name();

    /** The entity that has it. */
    ModelEntity<?> entity();

    /** The entity at the other end. */
    ModelEntity<?> target();

    /** The holder in the field of this object. */
    Object holder(Object object);
}
