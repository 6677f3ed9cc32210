package io.bathra.mapping;

import java.lang.invoke.MethodHandle;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** How a value lies in columns: one value in one column, or a key of several parts in several. */
public sealed interface Shape {
    /** Where the values of the columns pass, in order. */
    List<Gate> gates();

    /** The part of a value that lies in one of the columns. */
    @Nullable
    Object part(@Nullable Object value, int column);

    /** The value whose parts are these; null when a part is missing. */
    @Nullable
    Object assemble(List<? extends @Nullable Object> parts);

    /** The value as its columns will give it back. */
    @Nullable
    Object kept(@Nullable Object value);

    /** Whether a kept value is what the columns would keep of another one. */
    boolean same(@Nullable Object kept, @Nullable Object value);

    /** A value that a user has given for one of this shape, as the columns keep theirs: numbers widened, times cut. */
    default Object compared(Object value) {
        return value;
    }

    /** What is wrong with a value that should have this shape, in words; null when nothing is. */
    @Nullable
    String mismatch(Object value);

    /** One value in one column. */
    final class Single implements Shape {
        private final Gate gate;
        private final List<Gate> gates;

        Single(Gate gate) {
            this.gate = gate;
            this.gates = List.of(gate);
        }

        Gate gate() {
            return gate;
        }

        @Override
        public List<Gate> gates() {
            return gates;
        }

        @Override
        public @Nullable Object part(@Nullable Object value, int column) {
            return value;
        }

        @Override
        public @Nullable Object assemble(List<? extends @Nullable Object> parts) {
            return parts.get(0);
        }

        @Override
        public @Nullable Object kept(@Nullable Object value) {
            return gate.kept(value);
        }

        @Override
        public boolean same(@Nullable Object kept, @Nullable Object value) {
            return gate.same(kept, value);
        }

        @Override
        public Object compared(Object value) {
            return gate.key(value);
        }

        @Override
        public @Nullable String mismatch(Object value) {
            return gate.mismatch(value) == null
                    ? null
                    : "is a " + gate.type().javaType().getSimpleName() + ", but " + value + " is a "
                            + value.getClass().getSimpleName();
        }
    }

    /**
     * An inlined value, as the list of what its columns keep.
     *
     * @param always whether there is a value even where all columns are empty
     */
    record Several(List<Gate> gates, boolean always) implements Shape {
        public Several {
            gates = List.copyOf(gates);
        }

        @Override
        public @Nullable Object part(@Nullable Object value, int column) {
            return value == null ? null : ((List<?>) value).get(column);
        }

        @Override
        public @Nullable Object assemble(List<? extends @Nullable Object> parts) {
            return always || isAnyThere(parts) ? Collections.unmodifiableList(new ArrayList<>(parts)) : null;
        }

        private static boolean isAnyThere(List<? extends @Nullable Object> parts) {
            for (int i = 0; i < parts.size(); i++) { // no stream: this is done for each value
                if (parts.get(i) != null) {
                    return true;
                }
            }
            return false;
        }

        @Override
        public @Nullable Object kept(@Nullable Object value) {
            if (value == null) {
                return null;
            }
            @Nullable Object[] kept = new Object[gates.size()];
            for (int i = 0; i < kept.length; i++) {
                kept[i] = gates.get(i).kept(part(value, i));
            }
            List<@Nullable Object> all = Collections.unmodifiableList(Arrays.<@Nullable Object>asList(kept));
            return always || isAnyThere(all) ? all : null;
        }

        @Override
        public boolean same(@Nullable Object kept, @Nullable Object value) {
            for (int i = 0; i < gates.size(); i++) {
                if (!gates.get(i).same(part(kept, i), part(value, i))) {
                    return false;
                }
            }
            return !always || (kept == null) == (value == null);
        }

        @Override
        public @Nullable String mismatch(Object value) {
            return "is an inlined value, which serves as no key";
        }
    }

    /** A key of several attributes, as a list of their values. */
    final class Tuple implements Shape {
        private final List<Shape> elements;
        private final List<Gate> gates;

        /** For each column, which element it belongs to, and where in it. */
        private final int[] elementOf;

        private final int[] partOf;

        Tuple(List<Shape> elements) {
            this.elements = List.copyOf(elements);
            List<Gate> all = new ArrayList<>();
            elements.forEach(element -> all.addAll(element.gates()));
            gates = List.copyOf(all);
            elementOf = new int[all.size()];
            partOf = new int[all.size()];
            int column = 0;
            for (int i = 0; i < elements.size(); i++) {
                for (int part = 0; part < elements.get(i).gates().size(); part++) {
                    elementOf[column] = i;
                    partOf[column++] = part;
                }
            }
        }

        @Override
        public List<Gate> gates() {
            return gates;
        }

        @Override
        public @Nullable Object part(@Nullable Object value, int column) {
            int element = elementOf[column];
            return value == null ? null : elements.get(element).part(((List<?>) value).get(element), partOf[column]);
        }

        @Override
        public @Nullable Object assemble(List<? extends @Nullable Object> parts) {
            @Nullable Object[] values = new Object[elements.size()];
            int from = 0;
            for (int i = 0; i < values.length; i++) {
                int to = from + elements.get(i).gates().size();
                values[i] = elements.get(i).assemble(parts.subList(from, to));
                from = to;
            }
            return of(values);
        }

        /** The key of these elements; null when one is missing. */
        static @Nullable Object of(@Nullable Object[] elements) {
            for (Object element : elements) {
                if (element == null) {
                    return null;
                }
            }
            return List.of(elements);
        }

        @Override
        public @Nullable Object kept(@Nullable Object value) {
            return value;
        }

        @Override
        public boolean same(@Nullable Object kept, @Nullable Object value) {
            return Objects.equals(kept, value);
        }

        @Override
        public Object compared(Object value) {
            if (!(value instanceof List<?> values) || values.size() != elements.size()) {
                return value;
            }
            List<@Nullable Object> compared = new ArrayList<>();
            for (int i = 0; i < values.size(); i++) {
                Object one = values.get(i);
                compared.add(one == null ? null : elements.get(i).compared(one));
            }
            return compared;
        }

        @Override
        public @Nullable String mismatch(Object value) {
            if (!(value instanceof List<?> values) || values.size() != elements.size()) {
                return "has " + elements.size()
                        + " parts; give them as a list, List.of(...), in the order of the declaration";
            }
            for (int i = 0; i < elements.size(); i++) {
                String wrong = elements.get(i).mismatch(values.get(i));
                if (wrong != null) {
                    return "has a part that " + wrong;
                }
            }
            return null;
        }
    }

    /** A record, each of whose components lies in a column. */
    final class OfRecord implements Shape {
        private final Class<?> type;
        private final MethodHandle constructor;
        private final List<MethodHandle> accessors;
        private final List<Gate> gates;

        OfRecord(Class<?> type, MethodHandle constructor, List<MethodHandle> accessors, List<Gate> gates) {
            this.type = type;
            this.constructor = constructor;
            this.accessors = List.copyOf(accessors);
            this.gates = List.copyOf(gates);
        }

        @Override
        public List<Gate> gates() {
            return gates;
        }

        @Override
        public @Nullable Object part(@Nullable Object value, int column) {
            try {
                return value == null ? null : accessors.get(column).invoke(value);
            } catch (Error e) {
                throw e;
            } catch (Throwable e) {
                throw new IllegalStateException("cannot read a component of " + type.getName(), e);
            }
        }

        @Override
        public @Nullable Object assemble(List<? extends @Nullable Object> parts) {
            if (parts.stream().anyMatch(Objects::isNull)) {
                return null;
            }
            try {
                return constructor.invokeWithArguments(parts);
            } catch (Error e) {
                throw e;
            } catch (Throwable e) {
                throw new IllegalStateException("cannot make a " + type.getName() + " of " + parts, e);
            }
        }

        @Override
        public @Nullable Object kept(@Nullable Object value) {
            @Nullable Object[] parts = new Object[gates.size()];
            for (int i = 0; i < parts.length; i++) {
                parts[i] = gates.get(i).kept(part(value, i));
            }
            return value == null ? null : assemble(Arrays.<@Nullable Object>asList(parts));
        }

        @Override
        public boolean same(@Nullable Object kept, @Nullable Object value) {
            return Objects.equals(kept, kept(value));
        }

        @Override
        public @Nullable String mismatch(Object value) {
            return type.isInstance(value)
                    ? null
                    : "is a " + type.getSimpleName() + ", but " + value + " is a "
                            + value.getClass().getSimpleName();
        }
    }
}
