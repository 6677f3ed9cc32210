package io.bathra.query;

/** What makes something of several values, a constructor say. */
public final class Maker {
    private Maker() {}

    /** Of 3 values. */
    @FunctionalInterface
    public interface Of3<A, B, C, R> {
        R apply(A a, B b, C c);
    }

    /** Of 4 values. */
    @FunctionalInterface
    public interface Of4<A, B, C, D, R> {
        R apply(A a, B b, C c, D d);
    }

    /** Of 5 values. */
    @FunctionalInterface
    public interface Of5<A, B, C, D, F, R> {
        R apply(A a, B b, C c, D d, F f);
    }

    /** Of 6 values. */
    @FunctionalInterface
    public interface Of6<A, B, C, D, F, G, R> {
        R apply(A a, B b, C c, D d, F f, G g);
    }

    /** Of 7 values. */
    @FunctionalInterface
    public interface Of7<A, B, C, D, F, G, H, R> {
        R apply(A a, B b, C c, D d, F f, G g, H h);
    }

    /** Of 8 values. */
    @FunctionalInterface
    public interface Of8<A, B, C, D, F, G, H, I, R> {
        R apply(A a, B b, C c, D d, F f, G g, H h, I i);
    }
}
