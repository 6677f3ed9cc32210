package io.bathra.form;

/**
 * A field of an entity, or of a value inside one, as texts know it. What a field holds is asked of its owner: an
 * entity, or what the group around the field holds.
 */
public sealed interface FormField permits ValueField, GroupField, LinkField, PartsField, EndField {
    /** The name of the field in its class; of what is inside parts, none. */
    String name();

    /** Whether what it holds, or anything in it, is kept out of messages, traces and logs. */
    boolean isSecret();

    /** Whether programs set it: no drawn key, no version, no stamp, nothing that the database computes. */
    boolean isSettable();
}
