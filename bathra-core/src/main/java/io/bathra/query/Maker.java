package io.bathra.query;

/** What makes something of several values, a constructor say. */
public final class Maker {
    private Maker() {}

    /** Of 3 values. */
    @FunctionalInterface
    public interface Of3<A, B, C, R> {
        /**
         * {@return what is made of the values}
         *
         * @param a the first value
         * @param b the second value
         * @param c the third value
         */
        R apply(A a, B b, C c);
    }

    /** Of 4 values. */
    @FunctionalInterface
    public interface Of4<A, B, C, D, R> {
        /**
         * {@return what is made of the values}
         *
         * @param a the first value
         * @param b the second value
         * @param c the third value
         * @param d the fourth value
         */
        R apply(A a, B b, C c, D d);
    }

    /** Of 5 values. */
    @FunctionalInterface
    public interface Of5<A, B, C, D, F, R> {
        /**
         * {@return what is made of the values}
         *
         * @param a the first value
         * @param b the second value
         * @param c the third value
         * @param d the fourth value
         * @param f the fifth value
         */
        R apply(A a, B b, C c, D d, F f);
    }

    /** Of 6 values. */
    @FunctionalInterface
    public interface Of6<A, B, C, D, F, G, R> {
        /**
         * {@return what is made of the values}
         *
         * @param a the first value
         * @param b the second value
         * @param c the third value
         * @param d the fourth value
         * @param f the fifth value
         * @param g the sixth value
         */
        R apply(A a, B b, C c, D d, F f, G g);
    }

    /** Of 7 values. */
    @FunctionalInterface
    public interface Of7<A, B, C, D, F, G, H, R> {
        /**
         * {@return what is made of the values}
         *
         * @param a the first value
         * @param b the second value
         * @param c the third value
         * @param d the fourth value
         * @param f the fifth value
         * @param g the sixth value
         * @param h the seventh value
         */
        R apply(A a, B b, C c, D d, F f, G g, H h);
    }

    /** Of 8 values. */
    @FunctionalInterface
    public interface Of8<A, B, C, D, F, G, H, I, R> {
        /**
         * {@return what is made of the values}
         *
         * @param a the first value
         * @param b the second value
         * @param c the third value
         * @param d the fourth value
         * @param f the fifth value
         * @param g the sixth value
         * @param h the seventh value
         * @param i the eighth value
         */
        R apply(A a, B b, C c, D d, F f, G g, H h, I i);
    }
}
