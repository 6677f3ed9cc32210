package io.bathra.model;

import io.bathra.attr.Accessor;
import io.bathra.error.BathraException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * An entity as the model has understood it: what was declared and what convention added.
 *
 * @param <E> the entity class
 */
public final class ModelEntity<E> {
    private final Class<E> type;
    private final Supplier<? extends E> constructor;
    private final String table;
    private final Kind kind;
    private final String name;
    private final int position;

    /** What the rows are to the domain. */
    public enum Kind {
        /** Objects of a class. */
        ENTITY,
        /** Objects of a class that are only read. */
        VIEW,
        /** Parts, which the domain sees in a collection of their owner alone. */
        PARTS,
        /** Pairs of a pivot. */
        PIVOT
    }

    private final Map<String, Attribute> attributes = new LinkedHashMap<>();
    private List<StoredAttribute> stored = List.of();
    private List<LinkAttribute> linkAttributes = List.of();
    private List<StoredAttribute> withRow = List.of();
    private List<StoredAttribute> laters = List.of();

    /** Made when somebody asks, since rules come after attributes. */
    private @Nullable List<StoredAttribute> watched;

    private List<StoredAttribute> watchedHolders = List.of();

    /** Made when somebody asks, since other sides come after attributes. */
    private @Nullable List<LinkAttribute> linksOfOrphans;

    /** Made when somebody asks, since many entities of a model are never touched. */
    private @Nullable RowHandles rowHandles;

    private List<LinksAttribute> linksAttributes = List.of();
    private List<BackLinkAttribute> backLinks = List.of();
    private List<PivotAttribute> pivots = List.of();
    private List<ToMany> allToManys = List.of();
    private final List<PivotAttribute> pivotsLeadingHere = new ArrayList<>();
    private List<PartsAttribute> parts = List.of();
    private Map<Integer, Attribute> associations = Map.of();
    private PivotAttribute.@Nullable Pivot pivot;
    private List<UniqueKey> uniqueKeys = List.of();
    private @Nullable Rules rules;
    private List<StoredAttribute> databaseMade = List.of();
    private int keySize;
    private List<StoredColumn> keyColumns = List.of();
    private List<StoredColumn> columns = List.of();
    private List<StoredColumn> columnsWithRow = List.of();
    private @Nullable Shape keyShape;
    private @Nullable KeySource keySource;
    private final Set<Event> heard = EnumSet.noneOf(Event.class);
    private final List<LinkAttribute> linksLeadingHere = new ArrayList<>();

    ModelEntity(Class<E> type, String name, Kind kind, Supplier<? extends E> constructor, String table, int position) {
        this.type = type;
        this.name = name;
        this.kind = kind;
        this.constructor = constructor;
        this.table = table;
        this.position = position;
    }

    /** Called once by the model while it is made; the attributes of the key are the first. */
    void complete(KeySource source, int keyAttributes, List<Attribute> all, Rules declared) {
        all.forEach(attribute -> attributes.put(attribute.name(), attribute));
        stored = pick(all, StoredAttribute.class);
        linkAttributes = pick(all, LinkAttribute.class);
        withRow = stored.stream().filter(attribute -> !attribute.isLater()).toList();
        laters = walked(stored.stream().filter(StoredAttribute::isLater).toList());
        watchedHolders = stored.stream()
                .filter(attribute -> attribute instanceof LinkAttribute || attribute.isLater())
                .toList();
        linksAttributes = pick(all, LinksAttribute.class);
        backLinks = pick(all, BackLinkAttribute.class);
        pivots = pick(all, PivotAttribute.class);
        parts = pick(all, PartsAttribute.class);
        List<ToMany> many = new ArrayList<>(linksAttributes);
        many.addAll(pivots);
        allToManys = walked(many);
        associations = new HashMap<>();
        linksAttributes.forEach(links -> associations.put(links.slot(), links));
        backLinks.forEach(link -> associations.put(link.slot(), link));
        pivots.forEach(attribute -> associations.put(attribute.slot(), attribute));
        databaseMade = stored.stream()
                .filter(attribute -> attribute.databaseMade() != null)
                .toList();
        keySize = keyAttributes;
        keySource = source;
        List<UniqueKey> keys = new ArrayList<>(declared.uniques());
        keys.add(0, new UniqueKey(stored.subList(0, keyAttributes), true, null));
        uniqueKeys = List.copyOf(keys);
        rules = declared;
        declared.listeners().forEach(listener -> heard.add(listener.event()));
    }

    private static <A> List<A> pick(List<Attribute> all, Class<A> kind) {
        List<A> picked = new ArrayList<>();
        all.stream().filter(kind::isInstance).map(kind::cast).forEach(picked::add);
        return walked(picked);
    }

    /** An immutable list that is walked for each object of each flush: the empty one of {@code List.of} makes an iterator each time. */
    private static <A> List<A> walked(List<A> list) {
        return list.isEmpty() ? Collections.emptyList() : List.copyOf(list);
    }

    public Class<E> type() {
        return type;
    }

    /** The class's simple name; for parts and pivots, the attribute that they are behind. */
    public String name() {
        return name;
    }

    /** The table's name, unquoted. */
    public String table() {
        return table;
    }

    /** Whether its rows come from a view and are only read. */
    public boolean isView() {
        return kind == Kind.VIEW;
    }

    /** What its rows are to the domain. */
    public Kind kind() {
        return kind;
    }

    /** Its place in the model's declaration. */
    public int position() {
        return position;
    }

    /** Called once by the model when all links have their columns. */
    void columnsAreKnown() {
        keyColumns = columns(keyAttributes());
        columns = columns(stored);
        columnsWithRow = columns(withRow);
        keyShape = keySize == 1
                ? stored.get(0).shape()
                : new Shape.Tuple(
                        keyAttributes().stream().map(StoredAttribute::shape).toList());
    }

    /** The attributes of the key, one or more; the first of the stored ones. */
    public List<StoredAttribute> keyAttributes() {
        return stored.subList(0, keySize);
    }

    /** How a key lies in columns. A key of several attributes is the list of their values. */
    public Shape keyShape() {
        return Objects.requireNonNull(keyShape);
    }

    /** The columns of the key. */
    public List<StoredColumn> keyColumns() {
        return keyColumns;
    }

    /** All columns, those of the key first. */
    public List<StoredColumn> columns() {
        return columns;
    }

    /** The columns that are read with a row, those of the key first. */
    public List<StoredColumn> columnsWithRow() {
        return columnsWithRow;
    }

    /** The columns of some attributes, in order. */
    public static List<StoredColumn> columns(List<StoredAttribute> attributes) {
        return attributes.stream()
                .flatMap(attribute -> attribute.columns().stream())
                .toList();
    }

    /** The key in a row, which is given as the values of the attributes by slot; null while a part is missing. */
    public @Nullable Object keyIn(@Nullable Object[] row) {
        return keySize == 1
                ? row[0]
                : keyShape()
                        .assemble(keyColumns().stream()
                                .map(column -> column.in(row))
                                .toList());
    }

    /** The primary key, then the unique constraints. */
    public List<UniqueKey> uniqueKeys() {
        return uniqueKeys;
    }

    public KeySource keySource() {
        return Objects.requireNonNull(keySource);
    }

    /** The attributes with a column, in the order of the columns; the key comes first. */
    public List<StoredAttribute> stored() {
        return stored;
    }

    public List<LinkAttribute> links() {
        return linkAttributes;
    }

    /** The attributes whose values are read with a row. */
    public List<StoredAttribute> withRow() {
        return withRow;
    }

    /** The attributes whose values are read on request. */
    public List<StoredAttribute> laters() {
        return laters;
    }

    public List<LinksAttribute> toManys() {
        return linksAttributes;
    }

    /** All associations to many, over pivots or not. */
    public List<ToMany> allToManys() {
        return allToManys;
    }

    /** The attributes in which a user may change something: neither versions nor what the database computes. */
    public List<StoredAttribute> watched() {
        List<StoredAttribute> known = watched;
        if (known == null) {
            known = stored.stream().filter(attribute -> !attribute.isManaged()).toList();
            watched = known;
        }
        return known;
    }

    /** Those of the watched attributes whose values lie in holders. */
    public List<StoredAttribute> watchedHolders() {
        return watchedHolders;
    }

    /** Gives an object the plain values of a row that was read; links are left as they are. */
    public void load(Object object, @Nullable Object[] row) {
        rowHandles().load(object, row);
    }

    /** Whether an object still has what a row holds in all watched attributes but {@link #watchedHolders}. */
    public boolean isAsInRow(Object object, @Nullable Object[] row) {
        return rowHandles().same(object, row);
    }

    private RowHandles rowHandles() {
        RowHandles known = rowHandles;
        if (known == null) {
            known = new RowHandles(
                    withRow.stream()
                            .filter(attribute -> !(attribute instanceof LinkAttribute))
                            .toList(),
                    watched().stream()
                            .filter(attribute -> !watchedHolders.contains(attribute))
                            .toList());
            rowHandles = known;
        }
        return known;
    }

    /** Whether its objects have links or values that are read later, which have to know their unit. */
    public boolean hasHolders() {
        return !links().isEmpty() || !backLinks.isEmpty() || !allToManys.isEmpty() || !laters.isEmpty();
    }

    /** Pivots of any entity whose elements are of this one. */
    public List<PivotAttribute> pivotsLeadingHere() {
        return pivotsLeadingHere;
    }

    /** One-to-one associations whose foreign key the other end holds. */
    public List<BackLinkAttribute> backLinks() {
        return backLinks;
    }

    public List<PivotAttribute> pivots() {
        return pivots;
    }

    public List<PartsAttribute> parts() {
        return parts;
    }

    void pivotLeadsHere(PivotAttribute attribute) {
        pivotsLeadingHere.add(attribute);
    }

    void isBehind(PivotAttribute.Pivot newPivot) {
        pivot = newPivot;
    }

    /** The pivot whose rows these are; null for all other tables. */
    public PivotAttribute.@Nullable Pivot pivot() {
        return pivot;
    }

    /** The attribute with this slot, whose holder may ask to be read. */
    public Attribute attributeAt(int slot) {
        return slot < stored.size() ? stored.get(slot) : Objects.requireNonNull(associations.get(slot));
    }

    /** The attributes in whose values the database has a part. */
    public List<StoredAttribute> databaseMade() {
        return databaseMade;
    }

    /** The indexes that are declared. */
    public List<IndexRule> indexes() {
        return rules().indexes();
    }

    /** The conditions that the database holds every row to. */
    public List<CheckRule> checks() {
        return rules().checks();
    }

    /** The attribute that counts the updates of a row, where one is declared. */
    public @Nullable ColumnAttribute version() {
        return rules().version();
    }

    /** The times that are set when a row is inserted; those that are set with each update count too. */
    public List<ColumnAttribute> insertStamps() {
        return rules().insertStamps();
    }

    /** Links whose other sides delete what is taken out of them. */
    public List<LinkAttribute> linksOfOrphans() {
        if (linksOfOrphans == null) {
            linksOfOrphans = linkAttributes.stream()
                    .filter(LinkAttribute::removesOrphans)
                    .toList();
        }
        return linksOfOrphans;
    }

    /** The times that are set when a row is updated. */
    public List<ColumnAttribute> updateStamps() {
        return rules().updateStamps();
    }

    /** Who wants to know of an event at a moment. */
    public List<Listener> listeners(Event event, Listener.Moment moment) {
        return rules().listeners().stream()
                .filter(listener -> listener.event() == event && listener.moment() == moment)
                .toList();
    }

    /** Whether anybody wants to know of an event, at whatever moment. */
    public boolean isHeard(Event event) {
        return heard.contains(event);
    }

    /** The links of all tables that lead here. */
    public List<LinkAttribute> linksLeadingHere() {
        return linksLeadingHere;
    }

    void linkLeadsHere(LinkAttribute link) {
        linksLeadingHere.add(link);
    }

    private Rules rules() {
        return Objects.requireNonNull(rules);
    }

    /** What it holds, as a person reads it: its table, columns, associations and rules. */
    public String describe() {
        return Description.of(this);
    }

    /** A new, empty object. */
    public E instantiate() {
        return Objects.requireNonNull(constructor.get(), () -> "the constructor given for " + name + " returned null");
    }

    /** The key that the database draws, in the object that carries it; null while it has not been drawn. */
    public @Nullable Object drawnKeyOf(Object object) {
        Object value = stored.get(0).get(object);
        boolean unset = isPrimitiveKey() && value instanceof Number number && number.longValue() == 0;
        return unset ? null : value;
    }

    /** The key that an object itself tells; null while it has none, and where links are a part of it. */
    public @Nullable Object keyOf(Object object) {
        if (keySource().isDrawn()) {
            return drawnKeyOf(object);
        }
        @Nullable Object[] row = new Object[stored.size()];
        for (StoredAttribute attribute : keyAttributes()) {
            row[attribute.slot()] = attribute instanceof ColumnAttribute ? attribute.get(object) : null;
        }
        return keyIn(row);
    }

    /** Takes a drawn key back from an object. */
    public void clearKey(Object object) {
        boolean narrow = stored.get(0).shape().types().get(0).kind() == ColumnType.Kind.INTEGER;
        stored.get(0).set(object, isPrimitiveKey() ? narrow ? (Object) 0 : (Object) 0L : null);
    }

    private boolean isPrimitiveKey() {
        return stored.get(0) instanceof ColumnAttribute key && key.primitive();
    }

    /**
     * The attribute that an accessor names.
     *
     * @throws BathraException when this entity has none such
     */
    public Attribute attribute(Accessor accessor) {
        Attribute found = attributes.get(accessor.property());
        if (found == null) {
            found = attributes.get(accessor.beanProperty());
        }
        if (found == null || !accessor.owner().isAssignableFrom(type)) {
            throw new BathraException(
                    accessor + " names no attribute of " + name() + "; it has " + attributes.keySet());
        }
        return found;
    }

    /**
     * The attribute of this name.
     *
     * @throws BathraException when this entity has none such
     */
    public Attribute attribute(String attributeName) {
        Attribute found = attributes.get(attributeName);
        if (found == null) {
            throw new BathraException(
                    "'" + attributeName + "' names no attribute of " + name + "; it has " + attributes.keySet());
        }
        return found;
    }

    /** The attribute of a name, if there is one. */
    public Optional<Attribute> attributeIfAny(String attributeName) {
        return Optional.ofNullable(attributes.get(attributeName));
    }

    /**
     * The column that an accessor names; behind the accessor of an inlined value, those that lead into it.
     *
     * @throws BathraException when they name none, or more than one
     */
    public StoredColumn column(List<Accessor> way) {
        Attribute attribute = attribute(way.get(0));
        List<Accessor> inside = way.subList(1, way.size());
        StoredColumn found = null;
        if (attribute instanceof ColumnAttribute column && column.isInline()) {
            found = column.inside(inside);
        } else if (attribute instanceof StoredAttribute stored
                && inside.isEmpty()
                && stored.columns().size() == 1) {
            found = stored.columns().get(0);
        }
        if (found == null) {
            throw new BathraException(way + " names no single column of " + name + "; name one of "
                    + columns.stream().map(StoredColumn::label).toList());
        }
        return found;
    }

    /** A row of this entity in words: {@code Vessel 7}. */
    public String describe(@Nullable Object keyValue) {
        return name() + " " + keyValue;
    }

    @Override
    public String toString() {
        return name();
    }
}
