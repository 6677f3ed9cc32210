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
    record Single(Gate gate) implements Shape {
        @Override
        public List<Gate> gates() {
            return List.of(gate);
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
            return !always && parts.stream().allMatch(Objects::isNull)
                    ? null
                    : Collections.unmodifiableList(new ArrayList<>(parts));
        }

        @Override
        public @Nullable Object kept(@Nullable Object value) {
            if (value == null) {
                return null;
            }
            List<@Nullable Object> kept = new ArrayList<>(gates.size());
            for (int i = 0; i < gates.size(); i++) {
                kept.add(gates.get(i).kept(part(value, i)));
            }
            return assemble(kept);
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
    record Tuple(List<Shape> elements) implements Shape {
        public Tuple {
            elements = List.copyOf(elements);
        }

        @Override
        public List<Gate> gates() {
            return elements.stream()
                    .flatMap(element -> element.gates().stream())
                    .toList();
        }

        @Override
        public @Nullable Object part(@Nullable Object value, int column) {
            int at = column;
            for (int i = 0; i < elements.size(); i++) {
                int width = elements.get(i).gates().size();
                if (at < width) {
                    return value == null ? null : elements.get(i).part(((List<?>) value).get(i), at);
                }
                at -= width;
            }
            throw new IndexOutOfBoundsException(column);
        }

        @Override
        public @Nullable Object assemble(List<? extends @Nullable Object> parts) {
            List<Object> values = new ArrayList<>();
            int from = 0;
            for (Shape element : elements) {
                int to = from + element.gates().size();
                Object value = element.assemble(parts.subList(from, to));
                if (value == null) {
                    return null;
                }
                values.add(value);
                from = to;
            }
            return List.copyOf(values);
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
            Object[] parts = new Object[gates.size()];
            for (int i = 0; i < parts.length; i++) {
                parts[i] = gates.get(i).kept(part(value, i));
            }
            return value == null ? null : assemble(Arrays.asList(parts));
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
