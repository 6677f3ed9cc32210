package io.bathra.junit;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.model.Model;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import javax.sql.DataSource;
import org.assertj.core.api.Assertions;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.extension.AfterAllCallback;
import org.junit.jupiter.api.extension.AfterEachCallback;
import org.junit.jupiter.api.extension.BeforeAllCallback;
import org.junit.jupiter.api.extension.BeforeEachCallback;
import org.junit.jupiter.api.extension.ExtensionContext;
import org.junit.jupiter.api.extension.ParameterContext;
import org.junit.jupiter.api.extension.ParameterResolver;
import org.junit.platform.commons.support.AnnotationSupport;

/**
 * A store for tests. Its tables are made once for a class of tests, in a database or schema of their own; each test finds
 * them empty, with generators at their beginning, unless it is to be rolled back. The tests of one class run one after
 * another; classes may run at the same time.
 *
 * <pre>{@code
 * @Test
 * @AtMost(5)
 * void allVesselsOfADayAreReadAtOnce() {
 *     twoCalls();
 *     List<String> names = desk.delay(MORNING.toLocalDate().atStartOfDay(), Duration.ofHours(2));
 *     assertThat(names).containsExactly("Nordgull", "Ternros");
 *     assertThat(db.statements()).noneRepeated().inserts(0).deletes(0);
 * }
 * }</pre>
 */
public final class StoreExtension
        implements BeforeAllCallback, BeforeEachCallback, AfterEachCallback, AfterAllCallback, ParameterResolver {
    private static final ExtensionContext.Namespace NAMESPACE = ExtensionContext.Namespace.create(StoreExtension.class);
    private static final Instant BEGINNING = Instant.parse("2026-01-02T03:04:05Z");

    private final Model model;
    private final TestDatabase database;
    private final boolean rollingBack;
    private final Instant beginning;
    private final @Nullable Consumer<Store> filling;

    /** Whether it is a static field, which has its own place for all tests of the class. */
    private boolean shared;

    /** What the tests of this thread, and the threads that they start, have open: classes may share an extension. */
    private final InheritableThreadLocal<@Nullable OpenStore> here = new InheritableThreadLocal<>();

    /** For threads that were there before. */
    private volatile @Nullable OpenStore latest;

    private StoreExtension(
            Model model,
            TestDatabase database,
            boolean rollingBack,
            Instant beginning,
            @Nullable Consumer<Store> filling) {
        this.model = model;
        this.database = database;
        this.rollingBack = rollingBack;
        this.beginning = beginning;
        this.filling = filling;
    }

    // ---- declared

    /**
     * {@return a store of a model on an H2 in memory}
     *
     * @param model the model
     */
    public static StoreExtension of(Model model) {
        return new StoreExtension(model, TestDatabase.h2(), false, BEGINNING, null);
    }

    /**
     * {@return the same on another database}
     *
     * @param other the other one
     */
    public StoreExtension on(TestDatabase other) {
        return new StoreExtension(model, other, rollingBack, beginning, filling);
    }

    /**
     * {@return the same on another database that needs no URL}
     *
     * @param other the other one
     */
    public StoreExtension on(WithStore.Database other) {
        return on(other.database());
    }

    /**
     * {@return the same, where all of a test happens in one transaction that is rolled back, so that nothing needs to
     * be emptied} What the test takes for transactions are savepoints in it. For tests of one thread, that need no
     * isolation level and none of the ways that a driver alone knows, such as COPY; generators go on.
     */
    public StoreExtension rollingBack() {
        return new StoreExtension(model, database, true, beginning, filling);
    }

    /**
     * {@return the same with a clock that stands at another time when a test begins; without this,
     * 2026-01-02T03:04:05Z}
     *
     * @param time the time at which it stands
     */
    public StoreExtension at(Instant time) {
        return new StoreExtension(model, database, rollingBack, time, filling);
    }

    /**
     * {@return the same with rows that each test finds} What is executed for them is not counted.
     *
     * @param newFilling what is given
     */
    public StoreExtension filledBy(Consumer<Store> newFilling) {
        return new StoreExtension(model, database, rollingBack, beginning, newFilling);
    }

    // ---- for a test

    /** {@return the store} */
    public Store store() {
        return opened().store;
    }

    /**
     * {@return the store's connections: for code that uses JDBC itself} Faults reach it, its statements are not heard.
     */
    public DataSource source() {
        return opened().watched.source();
    }

    /** {@return the clock of the store: what it stamps, keys that are ordered by time, commit tokens} */
    public TestClock clock() {
        return opened().clock;
    }

    /** {@return what can be made to fail} */
    public Faults faults() {
        return opened().faults;
    }

    /** {@return what the store has executed in this test so far} */
    public Statements statements() {
        return opened().heard.since(0);
    }

    /** A piece of work. */
    @FunctionalInterface
    public interface Work<X extends Exception> {
        /**
         * Does it.
         *
         * @throws X when that fails
         */
        void run() throws X;
    }

    /**
     * {@return what the store executes during a piece of work}
     *
     * @param <X> the checked exception that the work may throw
     * @param work the unit of work
     * @throws X when that fails
     */
    public <X extends Exception> Statements during(Work<X> work) throws X {
        int before = opened().heard.size();
        work.run();
        return opened().heard.since(before);
    }

    /**
     * Stores new objects, and what hangs on them. It is not counted.
     *
     * @param objects the objects
     */
    public void add(Object... objects) {
        uncounted(() -> store().run(work -> Arrays.stream(objects).forEach(work::add)));
    }

    /**
     * Stores rows of an entity given as lines with commas, the first of which has the names of attributes. A link is
     * given by what is unique in its target: {@code vessel.imo}. It is not counted.
     *
     * @param entity the entity's class
     * @param lines the lines
     */
    public void addCsv(Class<?> entity, String lines) {
        addTexts(entity, GivenRows.csv(lines));
    }

    /**
     * The same as a YAML list of maps; it needs snakeyaml-engine on the class path.
     *
     * @param entity the entity's class
     * @param list the list
     */
    public void addYaml(Class<?> entity, String list) {
        addTexts(entity, GivenRows.yaml(list));
    }

    private void addTexts(Class<?> entity, List<Map<String, @Nullable String>> rows) {
        uncounted(() -> store().bulk(entity).texts().insert(rows));
    }

    private void uncounted(Runnable work) {
        Heard heard = opened().heard;
        int before = heard.size();
        try {
            work.run();
        } finally {
            heard.backTo(before);
        }
    }

    /**
     * {@return the rows of a table as an aligned text, in the order of their keys} A key that says nothing by itself
     * is the table's name and the place of its row, wherever it stands; the time of the clock is {@code now}, nothing
     * is {@code -}.
     *
     * @param table the table
     * @param columns the columns
     */
    public String rows(String table, String... columns) {
        String[] text = new String[1];
        uncounted(() -> text[0] = new RowText(store(), clock()).of(table, List.of(columns)));
        return text[0];
    }

    /**
     * Asserts what tables hold: for each, its name, a line with the names of the columns to compare, and its rows.
     *
     * <pre>{@code
     * db.assertRows("""
     *         port_call
     *           number    | vessel_id | status
     *           26-000001 | vessel#1  | EXPECTED
     *           26-000002 | vessel#2  | EXPECTED
     *           26-000003 | vessel#2  | EXPECTED
     *         """);
     * }</pre>
     *
     * @param expected what is expected
     */
    public void assertRows(String expected) {
        RowText.Comparison[] both = new RowText.Comparison[1];
        uncounted(() -> both[0] = new RowText(store(), clock()).compared(expected));
        Assertions.assertThat(both[0].actual()).isEqualTo(both[0].expected());
    }

    /** A piece of work in a unit of work. */
    @FunctionalInterface
    public interface UnitTask {
        /**
         * Does it.
         *
         * @param work the unit of work
         */
        void in(UnitOfWork work);
    }

    /**
     * Does a piece of work again and again, each time with another statement failing, once alone and once since the
     * connection is lost, and then with the commit failing. Each time all rows must be as before. Where a statement
     * alone fails, the work is a piece of a unit of work, which takes it back, and the objects must be as before as
     * well. At last it succeeds.
     *
     * @param objects those whose fields must be as before: new ones that the work adds, say
     * @param task the work
     * @return how many statements the work has, with those of its flush
     * @throws AssertionError when something is not as before, or a failure has not come out of the work
     */
    public int everyStatementFails(UnitTask task, Object... objects) {
        return new EveryStatement(this, task, objects).fails();
    }

    /** All rows of all tables, as a text. */
    String allRows() {
        String[] text = new String[1];
        uncounted(() -> text[0] = new RowText(store(), clock()).all());
        return text[0];
    }

    // ---- the life of a test

    @Override
    public void beforeAll(ExtensionContext context) {
        shared = true;
        take(opened(context));
    }

    @Override
    public void beforeEach(ExtensionContext context) {
        take(opened(context)).begin(beginning, filling);
    }

    @Override
    public void afterEach(ExtensionContext context) {
        OpenStore mine = here.get();
        if (mine == null) {
            return; // it could not be opened
        }
        mine.begun.forEach(UnitOfWork::close);
        mine.begun.clear();
        List<String> waiting = mine.faults.waiting();
        mine.faults.clear();
        Statements executed = mine.heard.since(0);
        boolean failed = context.getExecutionException().isPresent();
        try {
            mine.end();
            if (!failed) {
                check(context, waiting, executed);
            }
        } catch (AssertionError e) {
            failed = true;
            throw e;
        } finally {
            if (failed) {
                FailurePage.write(context, mine.recording);
            }
        }
    }

    private static void check(ExtensionContext context, List<String> waiting, Statements executed) {
        if (!waiting.isEmpty()) {
            throw new AssertionError("asked for, but it has not happened: " + String.join(", ", waiting)
                    + "; take back with faults().clear() what need not happen\nexecuted:\n" + executed);
        }
        atMost(context)
                .ifPresent(most -> new StatementsAssert(executed)
                        .as("@AtMost(" + most.value() + ") " + context.getDisplayName())
                        .atMost(most.value()));
    }

    @Override
    public void afterAll(ExtensionContext context) {
        // the place is closed with the context that it was opened in
    }

    private static Optional<AtMost> atMost(ExtensionContext context) {
        return AnnotationSupport.findAnnotation(context.getElement(), AtMost.class)
                .or(() -> AnnotationSupport.findAnnotation(context.getRequiredTestClass(), AtMost.class));
    }

    @Override
    public boolean supportsParameter(ParameterContext parameter, ExtensionContext context) {
        Class<?> type = parameter.getParameter().getType();
        return type == Store.class || type == UnitOfWork.class || type == StoreExtension.class;
    }

    @Override
    public Object resolveParameter(ParameterContext parameter, ExtensionContext context) {
        Class<?> type = parameter.getParameter().getType();
        if (type == StoreExtension.class) {
            return this;
        }
        OpenStore mine = take(opened(context));
        if (type == Store.class) {
            return mine.store;
        }
        UnitOfWork work = mine.store.begin();
        mine.begun.add(work);
        return work;
    }

    private OpenStore take(OpenStore opened) {
        here.set(opened);
        latest = opened;
        return opened;
    }

    private OpenStore opened() {
        OpenStore mine = here.get();
        OpenStore opened = mine == null ? latest : mine;
        if (opened == null) {
            throw new BathraException(
                    "the store is there from the beginning of a test to its end; register the extension"
                            + " with @RegisterExtension, in a static field where @BeforeAll needs it");
        }
        return opened;
    }

    private record Key(Model model, String database, boolean rollingBack) {}

    private OpenStore opened(ExtensionContext context) {
        ExtensionContext ofClass =
                context.getTestMethod().isPresent() ? context.getParent().orElse(context) : context;
        Object key = shared ? this : new Key(model, database.toString(), rollingBack);
        return ofClass.getStore(NAMESPACE)
                .getOrComputeIfAbsent(key, k -> new OpenStore(model, database, rollingBack), OpenStore.class);
    }
}
