package io.bathra.examples.harbour;

import java.util.List;
import java.util.stream.LongStream;
import java.util.stream.Stream;

/** Containers in any number, made up as they are read; the same numbers give the same containers. */
public final class Containers {
    /** So many differ in their serials. */
    public static final int MOST = 10_000_000;

    private static final ContainerKind[] KINDS = ContainerKind.values();
    private static final int LIGHTEST = 2_200;
    private static final int HEAVIEST = 30_480;

    private Containers() {}

    /** The container with a number; its operator is left to the caller. */
    public static Container of(long number) {
        long mixed = number * 2_654_435_761L >>> 7; // spreads neighbours
        return new Container(
                serial(number),
                KINDS[(int) (mixed % 11 < 8 ? 0 : mixed % KINDS.length)],
                mixed % 3 == 0 ? 20 : 40,
                LIGHTEST + (int) (mixed % (HEAVIEST - LIGHTEST)));
    }

    /**
     * Containers of some operators.
     *
     * @throws IllegalArgumentException when there would be more than have serials of their own
     */
    public static Stream<Container> of(List<Operator> operators, int count) {
        if (count > MOST) {
            throw new IllegalArgumentException(
                    "serials have seven digits, enough for " + MOST + " containers, not for " + count);
        }
        return LongStream.range(0, count).mapToObj(number -> {
            Container container = of(number);
            container.operator().set(operators.get((int) (number % operators.size())));
            return container;
        });
    }

    private static String serial(long number) {
        String digits = Long.toString(number);
        return "BATU" + "0".repeat(7 - digits.length()) + digits;
    }
}
