package io.bathra.testing;

import java.util.Locale;
import net.jqwik.api.lifecycle.LifecycleContext;
import net.jqwik.api.lifecycle.MethodLifecycleContext;
import net.jqwik.api.lifecycle.PropagationMode;
import net.jqwik.api.lifecycle.SkipExecutionHook;

/**
 * Of the properties that are called after a database, {@code onMariaDb} say, those stay of the databases that were
 * chosen.
 */
public final class OnChosenDatabases implements SkipExecutionHook {
    private static final String ON = "on";

    @Override
    public PropagationMode propagateTo() {
        return PropagationMode.ALL_DESCENDANTS;
    }

    @Override
    public SkipResult shouldBeSkipped(LifecycleContext context) {
        if (!(context instanceof MethodLifecycleContext method)) {
            return SkipResult.doNotSkip();
        }
        String name = method.targetMethod().getName();
        String database = name.substring(Math.min(name.length(), ON.length())).toUpperCase(Locale.ROOT);
        boolean chosen = TestDatabase.chosen().anyMatch(one -> one.name().startsWith(database));
        return chosen || !name.startsWith(ON) ? SkipResult.doNotSkip() : SkipResult.skip("another database was chosen");
    }
}
