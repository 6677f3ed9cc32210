package io.bathra.access;

import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodType;
import java.util.List;

/**
 * Several handles as one, which a virtual machine compiles as a whole once it has been called often; called one by one,
 * none of them would be inlined. Halves are put together, so that the nesting stays flat however many there are.
 */
public final class HandleChain {
    /**
     * Whether handles are compiled at all. A native image goes through each of them anew at each call, so that loops
     * and reflection do the same work in a tenth of the time; the property is how that is tested on a JVM.
     */
    public static final boolean COMPILED = !NativeImage.HERE && !"false".equals(System.getProperty("bathra.handles"));

    private HandleChain() {}

    /**
     * What calls one after the other with the same arguments.
     *
     * @param type takes the arguments and gives nothing
     */
    public static MethodHandle inTurn(MethodType type, List<MethodHandle> handles) {
        if (handles.size() < 2) {
            return handles.isEmpty() ? MethodHandles.empty(type) : handles.get(0);
        }
        int half = handles.size() / 2;
        return MethodHandles.foldArguments(
                inTurn(type, handles.subList(half, handles.size())), inTurn(type, handles.subList(0, half)));
    }

    /**
     * What tells whether all of them say yes to the same arguments; stops at the first that does not.
     *
     * @param type takes the arguments and gives a truth
     */
    public static MethodHandle allTrue(MethodType type, List<MethodHandle> tests) {
        if (tests.size() < 2) {
            return tests.isEmpty() ? constant(type, true) : tests.get(0);
        }
        int half = tests.size() / 2;
        return MethodHandles.guardWithTest(
                allTrue(type, tests.subList(0, half)),
                allTrue(type, tests.subList(half, tests.size())),
                constant(type, false));
    }

    private static MethodHandle constant(MethodType type, boolean truth) {
        return MethodHandles.dropArguments(MethodHandles.constant(boolean.class, truth), 0, type.parameterList());
    }
}
