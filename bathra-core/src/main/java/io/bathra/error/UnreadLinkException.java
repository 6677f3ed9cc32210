package io.bathra.error;

/** A link was visited for the first time after its unit of work had been closed, so nothing can read it any more. */
public final class UnreadLinkException extends BathraException {
    /**
     * @param holder what should have been read, in words
     */
    public UnreadLinkException(String holder) {
        super(holder
                + " belongs to no unit of work, since it was serialized, forgotten or given a key alone, so nothing can read it;"
                + " read the entity in a unit of work, and visit its link there");
    }

    /**
     * @param owner the entity and key, such as {@code PortCall 17}
     * @param attribute the link's name
     * @param accessor its accessor, such as {@code PortCall::vessel}
     */
    public UnreadLinkException(String owner, String attribute, String accessor) {
        super(owner + "." + attribute + " was never read, and its unit of work is closed; read it up front with"
                + " .alongWith(" + accessor + "), or visit it before the unit is closed");
    }
}
