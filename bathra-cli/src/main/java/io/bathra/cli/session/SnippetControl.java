package io.bathra.cli.session;

import java.lang.reflect.Field;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Modifier;
import java.util.Objects;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Function;
import jdk.jshell.execution.LocalExecutionControl;
import jdk.jshell.spi.ExecutionControl.EngineTerminationException;
import jdk.jshell.spi.ExecutionControl.InternalException;
import jdk.jshell.spi.ExecutionControl.StoppedException;
import org.jspecify.annotations.Nullable;

/**
 * Executes entries in this program, each on a thread of its own, and keeps what comes of them as objects: no text is
 * made of them here, and so no method of the user's called.
 */
final class SnippetControl extends LocalExecutionControl {
    /** Until then the JDK stops a thread by itself; later ones have the code of entries look whether it is to end. */
    private static final int LAST_WITH_STOP = 19;

    /** How long an entry has to come to its end once it was told to. */
    private static final long GRACE_MILLIS = 700;

    /** The entry that is about to be executed: what executes it is called without arguments. */
    private static final ThreadLocal<Turn> COMING = new InheritableThreadLocal<>();

    private static final Method TAKE = method();

    private final ClassLoader loader;
    private volatile @Nullable Turn current;
    private volatile boolean told;
    private volatile @Nullable Object variable;
    private volatile Function<@Nullable Object, Printed> showing = value -> Printed.NOTHING;

    SnippetControl(SnippetLoader loader) {
        super(loader);
        this.loader = loader;
    }

    private static Method method() {
        try {
            Method take = SnippetControl.class.getDeclaredMethod("take");
            take.setAccessible(true);
            return take;
        } catch (NoSuchMethodException e) {
            throw new IllegalStateException(e);
        }
    }

    /** One execution of one entry. */
    static final class Turn {
        private final Method snippet;
        private final Function<@Nullable Object, Printed> showing;
        private final CompletableFuture<Printed> over = new CompletableFuture<>();
        private final Thread thread;
        private volatile boolean stopped;
        private volatile boolean cutOff;
        private volatile boolean leftBehind;

        private Turn(Method snippet, Function<@Nullable Object, Printed> showing, ClassLoader loader) {
            this.snippet = snippet;
            this.showing = showing;
            thread = new Thread(this::execute, "entry");
            thread.setContextClassLoader(loader);
            thread.setDaemon(true);
        }

        private void execute() {
            try {
                Object result = snippet.invoke(null);
                letGo();
                over.complete(showing.apply(result));
            } catch (InvocationTargetException e) {
                over.completeExceptionally(e.getCause());
            } catch (Throwable e) { // ThreadDeath among them
                over.completeExceptionally(e);
            }
        }

        /** A result without a name is held by nobody. */
        private void letGo() throws IllegalAccessException {
            for (Field field : snippet.getDeclaringClass().getDeclaredFields()) {
                if (field.getName().startsWith("$")
                        && Modifier.isStatic(field.getModifiers())
                        && !field.getType().isPrimitive()) {
                    field.setAccessible(true);
                    field.set(null, null);
                }
            }
        }

        /** Whether it has come to its end within a time. */
        private boolean isOver(long millis) {
            try {
                over.get(millis, TimeUnit.MILLISECONDS);
                return true;
            } catch (ExecutionException e) {
                return true;
            } catch (TimeoutException e) {
                return false;
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return false;
            }
        }

        /** Somebody has asked it to stop. */
        boolean isStopped() {
            return stopped;
        }

        /** It was stopped wherever it was. */
        boolean isCutOff() {
            return cutOff;
        }

        /** It did not stop, and goes on by itself. */
        boolean isLeftBehind() {
            return leftBehind;
        }

        /** What was shown; null where it came to no end. */
        @Nullable
        Printed printed() {
            return over.isCompletedExceptionally() ? null : over.getNow(null);
        }

        /** What was thrown; null for nothing. */
        @Nullable
        Throwable failure() {
            if (!over.isCompletedExceptionally()) {
                return null;
            }
            try {
                over.get();
                return null;
            } catch (ExecutionException e) {
                return e.getCause();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return e;
            }
        }
    }

    /** Somebody enters something anew, whatever was stopped before. */
    void begin() {
        told = false;
    }

    /** What was entered is to be stopped, while it is compiled already. */
    void tell() {
        told = true;
    }

    boolean isTold() {
        return told;
    }

    /** How results are shown, on the thread of the entry, which may be stopped then as well. */
    void show(Function<@Nullable Object, Printed> newShowing) {
        showing = newShowing;
        current = null;
    }

    /** The latest execution; null when nothing was executed since {@link #show}. */
    @Nullable
    Turn turn() {
        return current;
    }

    /** Whether the entry that is being executed comes to its end within a time. */
    boolean endsWithin(long millis) {
        Turn turn = current;
        return turn == null || turn.isOver(millis);
    }

    @Override
    protected String invoke(Method snippet) throws Exception {
        Turn turn = new Turn(snippet, showing, loader);
        current = turn;
        if (told) { // in this order, so that whoever tells finds the turn, or is found here
            turn.stopped = true;
            turn.over.complete(Printed.NOTHING);
            throw new StoppedException();
        }
        COMING.set(turn);
        if (Runtime.version().feature() <= LAST_WITH_STOP) {
            take();
        } else {
            super.invoke(TAKE); // it prepares the code of entries to be stopped
        }
        if (turn.isStopped()) {
            throw new StoppedException();
        }
        Throwable failure = turn.failure();
        if (failure != null) {
            throw new InvocationTargetException(failure);
        }
        return "";
    }

    /** Waits for the entry that was announced to this thread, or to the one that has started it. */
    @SuppressWarnings("unused") // called by its name
    private static void take() {
        Turn turn = Objects.requireNonNull(COMING.get());
        turn.thread.start();
        while (!turn.isOver(Long.MAX_VALUE)) {
            Thread.interrupted(); // the entry is to end, and so does this
        }
    }

    /** Ends the entry that is being executed. The one call that another thread may make. */
    @Override
    public void stop() throws EngineTerminationException, InternalException {
        Turn turn = current;
        if (turn == null || turn.over.isDone()) {
            return;
        }
        turn.stopped = true;
        boolean older = Runtime.version().feature() <= LAST_WITH_STOP;
        if (!older) {
            super.stop(); // entries look whether they are to end, and nothing else is disturbed
            if (turn.isOver(GRACE_MILLIS)) {
                return;
            }
        }
        turn.thread.interrupt();
        if (turn.isOver(GRACE_MILLIS)) {
            turn.cutOff = !(turn.failure() instanceof InterruptedException);
            return;
        }
        if (older) {
            turn.cutOff = true;
            end(turn.thread);
        }
        if (!turn.isOver(GRACE_MILLIS)) {
            turn.leftBehind = true;
            turn.over.completeExceptionally(new InterruptedException("left behind"));
        }
    }

    /** Only older JDKs can; newer ones know the method, and refuse. */
    private static void end(Thread thread) throws InternalException {
        try {
            Thread.class.getMethod("stop").invoke(thread);
        } catch (ReflectiveOperationException e) {
            throw new InternalException("the entry cannot be stopped: " + e);
        }
    }

    /** Keeps the value of a variable for {@link #variable}. */
    @Override
    public String varValue(String className, String varName) throws InternalException {
        try {
            Field field = findClass(className).getDeclaredField(varName);
            field.setAccessible(true);
            variable = field.get(null);
            return "";
        } catch (ReflectiveOperationException e) {
            throw new InternalException(varName + ": " + e);
        }
    }

    @Nullable
    Object variable() {
        Object value = variable;
        variable = null;
        return value;
    }
}
