package io.bathra.mapping;

import io.bathra.access.HandleChain;
import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodType;
import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * All plain values of an object at once: written from a row, and compared with one.
 */
final class RowHandles {
    private static final MethodType WRITE = MethodType.methodType(void.class, Object.class, Object[].class);
    private static final MethodHandle ELEMENT = MethodHandles.arrayElementGetter(Object[].class);
    private static final MethodType COMPARE = WRITE.changeReturnType(boolean.class);

    private final List<StoredAttribute> loaded;
    private final List<StoredAttribute> compared;
    /** Null where handles are not compiled. */
    private final @Nullable MethodHandle load;

    private final @Nullable MethodHandle same;

    /**
     * @param watched the attributes in which a user may change something; those in holders are looked at elsewhere
     */
    RowHandles(Attributes attributes, List<StoredAttribute> watched) {
        loaded = attributes.withRow().stream()
                .filter(attribute -> !attribute.isLink())
                .toList();
        compared = watched.stream()
                .filter(attribute -> !attributes.watchedHolders().contains(attribute))
                .toList();
        load = HandleChain.COMPILED ? HandleChain.inTurn(WRITE, all(loaded, StoredAttribute::loader)) : null;
        same = HandleChain.COMPILED ? HandleChain.allTrue(COMPARE, all(compared, StoredAttribute::comparison)) : null;
    }

    /** What takes an object and a value of each attribute, as what takes an object and a row. */
    private static List<MethodHandle> all(
            List<StoredAttribute> attributes, Function<StoredAttribute, MethodHandle> handle) {
        return attributes.stream()
                .map(attribute -> MethodHandles.filterArguments(
                        handle.apply(attribute), 1, MethodHandles.insertArguments(ELEMENT, 1, attribute.slot())))
                .toList();
    }

    /** Gives an object the values that were read for it. */
    void load(Object object, @Nullable Object[] row) {
        if (load == null) {
            loadOneByOne(object, row);
            return;
        }
        try {
            load.invokeExact(object, row);
        } catch (RuntimeException e) {
            loadOneByOne(object, row); // the failing one tells what is wrong
            throw e;
        } catch (Error e) {
            throw e;
        } catch (Throwable e) {
            throw new IllegalStateException(
                    "cannot write the fields of " + object.getClass().getName(), e);
        }
    }

    private void loadOneByOne(Object object, @Nullable Object[] row) {
        for (StoredAttribute attribute : loaded) {
            attribute.load(object, row[attribute.slot()]);
        }
    }

    /** Whether an object holds what the columns keep of it in a row. */
    boolean same(Object object, @Nullable Object[] row) {
        if (same == null) {
            return sameOneByOne(object, row);
        }
        try {
            return (boolean) same.invokeExact(object, row);
        } catch (RuntimeException | Error e) {
            throw e;
        } catch (Throwable e) {
            throw new IllegalStateException(
                    "cannot read the fields of " + object.getClass().getName(), e);
        }
    }

    private boolean sameOneByOne(Object object, @Nullable Object[] row) {
        for (StoredAttribute attribute : compared) {
            if (!attribute.isSame(object, row[attribute.slot()])) {
                return false;
            }
        }
        return true;
    }
}
