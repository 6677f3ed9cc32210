package io.bathra.mapping;

import io.bathra.access.HandleChain;
import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodType;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * All plain values of an object at once: written from a row, and compared with one.
 */
final class RowHandles {
    private static final MethodType WRITE = MethodType.methodType(void.class, Object.class, Object[].class);
    private static final MethodHandle ELEMENT = MethodHandles.arrayElementGetter(Object[].class);
    private static final MethodType COMPARE = WRITE.changeReturnType(boolean.class);

    private final List<StoredAttribute> loaded;
    private final MethodHandle load;
    private final MethodHandle same;

    /**
     * @param watched the attributes in which a user may change something; those in holders are looked at elsewhere
     */
    RowHandles(Attributes attributes, List<StoredAttribute> watched) {
        loaded = attributes.withRow().stream()
                .filter(attribute -> !attribute.isLink())
                .toList();
        List<MethodHandle> writes = new ArrayList<>();
        loaded.forEach(attribute -> writes.add(of(attribute, attribute.loader())));
        load = HandleChain.inTurn(WRITE, writes);
        List<MethodHandle> tests = new ArrayList<>();
        for (StoredAttribute attribute : watched) {
            if (!attributes.watchedHolders().contains(attribute)) {
                tests.add(of(attribute, attribute.comparison()));
            }
        }
        same = HandleChain.allTrue(COMPARE, tests);
    }

    /** What takes an object and a value, as what takes an object and a row. */
    private static MethodHandle of(StoredAttribute attribute, MethodHandle handle) {
        return MethodHandles.filterArguments(handle, 1, MethodHandles.insertArguments(ELEMENT, 1, attribute.slot()));
    }

    /** Gives an object the values that were read for it. */
    void load(Object object, @Nullable Object[] row) {
        try {
            load.invokeExact(object, row);
        } catch (RuntimeException e) {
            for (StoredAttribute attribute : loaded) {
                attribute.load(object, row[attribute.slot()]); // one by one, the failing one tells what is wrong
            }
            throw e;
        } catch (Error e) {
            throw e;
        } catch (Throwable e) {
            throw new IllegalStateException(
                    "cannot write the fields of " + object.getClass().getName(), e);
        }
    }

    /** Whether an object holds what the columns keep of it in a row. */
    boolean same(Object object, @Nullable Object[] row) {
        try {
            return (boolean) same.invokeExact(object, row);
        } catch (RuntimeException | Error e) {
            throw e;
        } catch (Throwable e) {
            throw new IllegalStateException(
                    "cannot read the fields of " + object.getClass().getName(), e);
        }
    }
}
