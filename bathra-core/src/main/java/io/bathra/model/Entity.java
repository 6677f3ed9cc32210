package io.bathra.model;

import io.bathra.access.Accessor;
import io.bathra.attr.Attr;
import io.bathra.attr.ChangedAttribute;
import io.bathra.attr.Converter;
import io.bathra.attr.Event;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.mapping.Listener;
import io.bathra.mapping.Listener.Moment;
import io.bathra.query.Condition;
import io.bathra.question.QueryDoor;
import io.bathra.question.SearchCondition;
import java.time.temporal.Temporal;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * The declaration of one entity class: table, key, attributes, associations. Immutable: each call gives a new
 * declaration.
 *
 * <pre>{@code
 * static final Entity<Vessel> VESSEL = Entity.of(Vessel.class, Vessel::new)
 *     .key(Vessel::id, generated())
 *     .column(Vessel::imo, required(), length(7), unique())
 *     .link(Vessel::operator)
 *     .links(Vessel::calls, PortCall::vessel);
 * }</pre>
 *
 * <p>Only what convention cannot know needs to be declared. Every field that is not static or transient is persistent:
 * a field of a simple type is a column, a {@code Link} is a foreign key, names become {@code snake_case}, a field
 * called
 * {@code id} is the key. {@code Links} need their other end, so they are always declared.
 *
 * @param <E> the entity class
 */
public final class Entity<E> {
    /** One line of a declaration. */
    sealed interface Line {}

    /** A line about one attribute. */
    sealed interface AttributeLine extends Line {
        Accessor accessor();

        default List<?> options() {
            return List.of();
        }
    }

    record KeyLine(List<Accessor> accessors, List<KeyOption> options) implements Line {}

    record UniqueLine(@Nullable String name, List<Accessor> accessors) implements Line {}

    record IndexLine(@Nullable String name, List<Accessor> accessors) implements Line {}

    record CheckLine(@Nullable String name, SearchCondition condition) implements Line {}

    /** An attribute whose value the unit of work sets. */
    record ManagedLine(Accessor accessor, Managed managed) implements Line {}

    /** What the unit of work sets an attribute to. */
    enum Managed {
        VERSION,
        INSERT_STAMP,
        UPDATE_STAMP
    }

    record ListenerLine(Listener listener) implements Line {}

    record ColumnLine(Accessor accessor, List<ColumnOption> options) implements AttributeLine {}

    record ConvertedLine(Accessor accessor, Converter<?, ?> converter, List<ColumnOption> options)
            implements AttributeLine {}

    record LinkLine(Accessor accessor, List<LinkOption> options) implements AttributeLine {}

    record LinksLine(Accessor accessor, Accessor otherEnd, List<LinksOption<?>> options) implements AttributeLine {}

    record InverseLine(Accessor accessor, Accessor otherEnd) implements AttributeLine {}

    record InlineLine(Accessor accessor, List<InlineOption> options) implements AttributeLine {}

    record PartsLine(Accessor accessor, List<PartsOption> options) implements AttributeLine {}

    record PivotLine(Accessor accessor, @Nullable Accessor otherSide, List<PivotOption> options)
            implements AttributeLine {}

    private final Class<E> type;
    private final Supplier<? extends E> constructor;
    private final @Nullable String table;
    private final boolean view;
    private final List<Line> lines;

    private Entity(
            Class<E> type, Supplier<? extends E> constructor, @Nullable String table, boolean view, List<Line> lines) {
        this.type = type;
        this.constructor = constructor;
        this.table = table;
        this.view = view;
        this.lines = lines;
    }

    /**
     * Begins a declaration.
     *
     * @param type the entity class
     * @param constructor makes an empty object for a row that is read; of any visibility that the declaration can see
     * @param <E> the entity
     * @return the declaration with it
     */
    public static <E> Entity<E> of(Class<E> type, Supplier<? extends E> constructor) {
        return new Entity<>(
                Objects.requireNonNull(type, "type"),
                Objects.requireNonNull(constructor, "constructor"),
                null,
                false,
                List.of());
    }

    /**
     * {@return the table's name, where the class name in {@code snake_case} does not fit}
     *
     * @param name the name
     */
    public Entity<E> table(String name) {
        if (name.isBlank()) {
            throw new IllegalArgumentException("the table of " + type.getSimpleName() + " must have a name");
        }
        return new Entity<>(type, constructor, name, view, lines);
    }

    /**
     * {@return rows come from a view of this name, and are only read} The view is none of Bathra's making.
     *
     * @param name the name
     */
    public Entity<E> view(String name) {
        if (name.isBlank()) {
            throw new IllegalArgumentException("the view of " + type.getSimpleName() + " must have a name");
        }
        return new Entity<>(type, constructor, name, true, lines);
    }

    /**
     * {@return the key, where it is not called {@code id} or not drawn as convention assumes}
     *
     * @param attribute the attribute, by its accessor
     * @param options what is said of it
     */
    public Entity<E> key(Attr<? super E, ?> attribute, KeyOption... options) {
        return with(new KeyLine(List.of(Accessor.of(attribute)), List.of(options)));
    }

    /**
     * {@return a key of several attributes, columns or links, which the program assigns} Its value, for {@code find}
     * say, is the list of theirs.
     *
     * @param first the first one
     * @param second the second one
     * @param more further ones
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Entity<E> key(Attr<? super E, ?> first, Attr<? super E, ?> second, Attr<? super E, ?>... more) {
        return with(new KeyLine(accessors(first, second, more), List.of()));
    }

    /**
     * {@return no two rows may have the same values of all these columns and links} Rows where one is missing do not
     * count.
     *
     * @param first the first one
     * @param second the second one
     * @param more further ones
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Entity<E> unique(Attr<? super E, ?> first, Attr<? super E, ?> second, Attr<? super E, ?>... more) {
        return with(new UniqueLine(null, accessors(first, second, more)));
    }

    /**
     * {@return the same as a constraint of this name, for a schema that exists}
     *
     * @param name the name
     * @param first the first one
     * @param more further ones
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Entity<E> unique(String name, Attr<? super E, ?> first, Attr<? super E, ?>... more) {
        return with(new UniqueLine(name, accessors(first, more)));
    }

    /**
     * {@return an index over some columns and links, in this order} Foreign keys have one anyway.
     *
     * @param first the first one
     * @param more further ones
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Entity<E> index(Attr<? super E, ?> first, Attr<? super E, ?>... more) {
        return with(new IndexLine(null, accessors(first, more)));
    }

    /**
     * {@return the same as an index of this name}
     *
     * @param name the name
     * @param first the first one
     * @param more further ones
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Entity<E> index(String name, Attr<? super E, ?> first, Attr<? super E, ?>... more) {
        return with(new IndexLine(name, accessors(first, more)));
    }

    /**
     * {@return a condition that the database holds every row to} It speaks of columns of this entity alone; a row for
     * which it is unknown, for want of a value, is fine.
     *
     * @param condition what has to hold
     */
    public Entity<E> check(Condition<? super E> condition) {
        return with(new CheckLine(null, QueryDoor.here().meaning(condition)));
    }

    /**
     * {@return the same as a constraint of this name}
     *
     * @param name the name
     * @param condition what has to hold
     */
    public Entity<E> check(String name, Condition<? super E> condition) {
        return with(new CheckLine(name, QueryDoor.here().meaning(condition)));
    }

    /**
     * {@return a whole number that grows by one with each update of the row} An update or removal of a row whose
     * version is not the one that was read is refused with {@link io.bathra.error.ConcurrentChangeException}.
     *
     * @param attribute the attribute, by its accessor
     */
    public Entity<E> version(Attr<? super E, ? extends @Nullable Number> attribute) {
        return with(new ManagedLine(Accessor.of(attribute), Managed.VERSION));
    }

    /**
     * {@return a time that is set when the row is inserted, by the store's clock}
     *
     * @param attribute the attribute, by its accessor
     */
    public Entity<E> stampOnInsert(Attr<? super E, ? extends @Nullable Temporal> attribute) {
        return with(new ManagedLine(Accessor.of(attribute), Managed.INSERT_STAMP));
    }

    /**
     * {@return a time that is set whenever the row is inserted or updated, by the store's clock}
     *
     * @param attribute the attribute, by its accessor
     */
    public Entity<E> stampOnUpdate(Attr<? super E, ? extends @Nullable Temporal> attribute) {
        return with(new ManagedLine(Accessor.of(attribute), Managed.UPDATE_STAMP));
    }

    private static List<Accessor> accessors(Attr<?, ?> first, Attr<?, ?> second, Attr<?, ?>[] more) {
        List<Accessor> all = new ArrayList<>(accessors(first, more));
        all.add(1, Accessor.of(second));
        return List.copyOf(all);
    }

    private static List<Accessor> accessors(Attr<?, ?> first, Attr<?, ?>[] more) {
        List<Accessor> all = new ArrayList<>(List.of(Accessor.of(first)));
        for (Attr<?, ?> attribute : more) {
            all.add(Accessor.of(attribute));
        }
        return List.copyOf(all);
    }

    /**
     * {@return a column of which convention does not know enough}
     *
     * @param attribute the attribute, by its accessor
     * @param options what is said of it
     */
    public Entity<E> column(Attr<? super E, ?> attribute, ColumnOption... options) {
        return with(new ColumnLine(Accessor.of(attribute), List.of(options)));
    }

    /**
     * {@return a column for a type of one's own}
     *
     * @param <V> the attribute's type
     * @param attribute the attribute, by its accessor
     * @param converter what turns values into those of the column and back
     * @param options what is said of it
     */
    public <V> Entity<E> column(
            Attr<? super E, ? extends @Nullable V> attribute, Converter<V, ?> converter, ColumnOption... options) {
        return with(new ConvertedLine(Accessor.of(attribute), converter, List.of(options)));
    }

    /**
     * {@return a value that is stored as columns of the entity's own row: a record, or an object of a class} Records
     * are inlined in any case; here are the options.
     *
     * @param attribute the attribute, by its accessor
     * @param options what is said of it
     */
    public Entity<E> inline(Attr<? super E, ?> attribute, InlineOption... options) {
        return with(new InlineLine(Accessor.of(attribute), List.of(options)));
    }

    /**
     * {@return a collection that lives and dies with the entity: a {@code List}, {@code Set} or {@code Map} of
     * records or simple values, in a table of its own} It is always read with the entity, and written as differences.
     *
     * @param attribute the attribute, by its accessor
     * @param options what is said of it
     */
    public Entity<E> parts(Attr<? super E, ?> attribute, PartsOption... options) {
        return with(new PartsLine(Accessor.of(attribute), List.of(options)));
    }

    /**
     * {@return a to-one association: this entity's table holds the foreign key}
     *
     * @param attribute the attribute, by its accessor
     * @param options what is said of it
     */
    public Entity<E> link(Attr<? super E, ? extends Link<?>> attribute, LinkOption... options) {
        return with(new LinkLine(Accessor.of(attribute), List.of(options)));
    }

    /**
     * {@return a to-many association, the other side of a link}
     *
     * @param attribute the many, seen from here
     * @param otherEnd the link that leads back here; its table holds the foreign key
     * @param <C> the class
     * @param options what is said of it
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final <C> Entity<E> links(
            Attr<? super E, Links<C>> attribute,
            Attr<? super C, ? extends Link<? super E>> otherEnd,
            LinksOption<? super C>... options) {
        return with(new LinksLine(Accessor.of(attribute), Accessor.of(otherEnd), List.of(options)));
    }

    /**
     * {@return the other side of a one-to-one association}
     *
     * @param attribute the one, seen from here
     * @param otherEnd the link that leads back here, declared {@code unique()}; its table holds the foreign key
     * @param <C> the class
     */
    public <C> Entity<E> link(Attr<? super E, Link<C>> attribute, Attr<? super C, ? extends Link<? super E>> otherEnd) {
        return with(new InverseLine(Accessor.of(attribute), Accessor.of(otherEnd)));
    }

    /**
     * {@return a many-to-many association, seen from here alone: a table holds the pairs}
     *
     * @param <C> the class
     * @param attribute the attribute, by its accessor
     * @param options what is said of it
     */
    public <C> Entity<E> pivot(Attr<? super E, Links<C>> attribute, PivotOption... options) {
        return with(new PivotLine(Accessor.of(attribute), null, List.of(options)));
    }

    /**
     * {@return a many-to-many association: a table holds the pairs}
     *
     * @param otherSide the same association, seen from the entity at the other end; it is declared here, not there
     * @param <C> the class
     * @param attribute the attribute, by its accessor
     * @param options what is said of it
     */
    public <C> Entity<E> pivot(
            Attr<? super E, Links<C>> attribute,
            Attr<? super C, ? extends Links<? super E>> otherSide,
            PivotOption... options) {
        return with(new PivotLine(Accessor.of(attribute), Accessor.of(otherSide), List.of(options)));
    }

    // ---- listeners

    /**
     * Runs before a flush writes a new entity. What it changes in the entity is part of the flush; an exception stops
     * the flush whole.
     *
     * @param listener whoever is to hear of it
     * @return the declaration with it
     */
    public Entity<E> beforeInsert(Consumer<? super E> listener) {
        return listen(Event.INSERT, Moment.BEFORE, (entity, changes) -> listener.accept(entity));
    }

    /**
     * Runs when a flush has written everything, for each new entity. An exception takes the flush back.
     *
     * @param listener whoever is to hear of it
     * @return the declaration with it
     */
    public Entity<E> afterInsert(Consumer<? super E> listener) {
        return listen(Event.INSERT, Moment.AFTER, (entity, changes) -> listener.accept(entity));
    }

    /**
     * Runs before a flush writes a changed entity, with what has changed so far. What it changes in the entity is part
     * of the flush; an exception stops the flush whole.
     *
     * @param listener whoever is to hear of it
     * @return the declaration with it
     */
    public Entity<E> beforeUpdate(BiConsumer<? super E, List<ChangedAttribute>> listener) {
        return listen(Event.UPDATE, Moment.BEFORE, listener);
    }

    /**
     * Runs when a flush has written everything, for each entity that it has changed. An exception takes the flush back.
     *
     * @param listener whoever is to hear of it
     * @return the declaration with it
     */
    public Entity<E> afterUpdate(BiConsumer<? super E, List<ChangedAttribute>> listener) {
        return listen(Event.UPDATE, Moment.AFTER, listener);
    }

    /**
     * Runs before a flush removes an entity, be it for a delete rule. Each such entity is read for that, one rule of a
     * parent's or not, so removing many takes longer. An exception stops the flush whole.
     *
     * @param listener whoever is to hear of it
     * @return the declaration with it
     */
    public Entity<E> beforeRemove(Consumer<? super E> listener) {
        return listen(Event.REMOVE, Moment.BEFORE, (entity, changes) -> listener.accept(entity));
    }

    /**
     * Runs when a flush has written everything, for each entity that it has removed. An exception takes the flush back.
     *
     * @param listener whoever is to hear of it
     * @return the declaration with it
     */
    public Entity<E> afterRemove(Consumer<? super E> listener) {
        return listen(Event.REMOVE, Moment.AFTER, (entity, changes) -> listener.accept(entity));
    }

    /**
     * Runs when the transaction is committed, for what is to be done outside of the database: a file to be deleted, a
     * message to be sent. An exception takes nothing back.
     *
     * @param event after which event
     * @param listener whoever is to hear of it
     * @return the declaration with it
     */
    public Entity<E> afterCommit(Event event, Consumer<? super E> listener) {
        return listen(event, Moment.AFTER_COMMIT, (entity, changes) -> listener.accept(entity));
    }

    @SuppressWarnings("unchecked") // a listener is given entities of this class alone
    private Entity<E> listen(Event event, Moment moment, BiConsumer<? super E, List<ChangedAttribute>> action) {
        return with(new ListenerLine(new Listener(event, moment, (BiConsumer<Object, List<ChangedAttribute>>) action)));
    }

    private Entity<E> with(Line line) {
        List<Line> all = new ArrayList<>(lines);
        all.add(line);
        return new Entity<>(type, constructor, table, view, List.copyOf(all));
    }

    Class<E> type() {
        return type;
    }

    Supplier<? extends E> constructor() {
        return constructor;
    }

    @Nullable
    String table() {
        return table;
    }

    boolean isView() {
        return view;
    }

    List<Line> lines() {
        return lines;
    }

    @Override
    public String toString() {
        return "Entity(" + type.getSimpleName() + ")";
    }
}
