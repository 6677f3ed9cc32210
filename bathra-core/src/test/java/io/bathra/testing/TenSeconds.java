package io.bathra.testing;

import java.util.List;
import net.jqwik.api.lifecycle.AroundTryHook;
import net.jqwik.api.lifecycle.Lifespan;
import net.jqwik.api.lifecycle.PropagationMode;
import net.jqwik.api.lifecycle.Store;
import net.jqwik.api.lifecycle.TryExecutionResult;
import net.jqwik.api.lifecycle.TryExecutor;
import net.jqwik.api.lifecycle.TryLifecycleContext;

/**
 * A property stops after ten seconds, as if it had tried all of its cases; the profile {@code long} lets it
 * go on.
 */
public final class TenSeconds implements AroundTryHook {
    private static final boolean GOES_ON = Boolean.getBoolean("bathra.long");
    private static final long NANOS = 10_000_000_000L;

    @Override
    public PropagationMode propagateTo() {
        return PropagationMode.ALL_DESCENDANTS;
    }

    @Override
    public TryExecutionResult aroundTry(TryLifecycleContext context, TryExecutor one, List<Object> parameters) {
        Store<Long> begun = Store.getOrCreate(TenSeconds.class, Lifespan.PROPERTY, System::nanoTime);
        TryExecutionResult result = one.execute(parameters);
        boolean enough = !GOES_ON && System.nanoTime() - begun.get() > NANOS;
        return enough && result.status() == TryExecutionResult.Status.SATISFIED
                ? TryExecutionResult.satisfied(true)
                : result;
    }
}
