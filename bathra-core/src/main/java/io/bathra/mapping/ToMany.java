package io.bathra.mapping;

/** An association to many entities, a {@link io.bathra.link.Links} in the field. */
public sealed interface ToMany permits LinksAttribute, PivotAttribute {
    /** Its place among the associations of its entity, behind those of the stored attributes. */
    int slot();

    String name();

    /** The entity that has it. */
    ModelEntity<?> entity();

    /** The entity of the elements. */
    ModelEntity<?> target();

    /** The holder in the field of this object. */
    Object holder(Object object);

    /** Whether new elements are stored along with their owner. */
    boolean cascades();
}
