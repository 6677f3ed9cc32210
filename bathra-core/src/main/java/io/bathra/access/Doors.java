package io.bathra.access;

import java.lang.invoke.MethodHandles;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Where the holder classes leave their doors, each once in its static initializer. */
public final class Doors {
    private static volatile @Nullable LinkDoor link;
    private static volatile @Nullable LinksDoor links;
    private static volatile @Nullable LaterDoor later;

    private Doors() {}

    public static void leave(LinkDoor door) {
        link = door;
    }

    public static void leave(LinksDoor door) {
        links = door;
    }

    public static void leave(LaterDoor door) {
        later = door;
    }

    /** The door of {@code Link}; there as soon as one link exists. */
    public static LinkDoor link() {
        return Objects.requireNonNull(link, "no Link has been created yet");
    }

    /** The door of {@code Links}; there as soon as one exists. */
    public static LinksDoor links() {
        return Objects.requireNonNull(links, "no Links has been created yet");
    }

    /** The door of {@code Later}; there as soon as one exists. */
    public static LaterDoor later() {
        return Objects.requireNonNull(later, "no Later has been created yet");
    }

    /** Makes a class leave its door, where nobody may have used it yet. */
    public static void wake(Class<?> keeper) {
        try {
            MethodHandles.lookup().ensureInitialized(keeper);
        } catch (IllegalAccessException e) {
            throw new IllegalStateException(keeper + " leaves no door", e);
        }
    }
}
