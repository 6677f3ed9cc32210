package io.bathra.mapping;

import io.bathra.access.Accessor;
import io.bathra.attr.Event;
import io.bathra.error.BathraException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
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

    private final AttributeNames names = new AttributeNames(this);
    private Attributes attributes = Attributes.NONE;

    /** Made when somebody asks, since other sides come after attributes. */
    private volatile @Nullable List<LinkAttribute> linksOfOrphans;

    /** Made when somebody asks, since rules come after attributes. */
    private volatile @Nullable List<StoredAttribute> watched;

    private volatile @Nullable List<ColumnAttribute> filledIn;

    /** Made when somebody asks, since many entities of a model are never touched. */
    private volatile @Nullable RowHandles rowHandles;

    /** What rooms above have made of this entity. */
    private static final Object CONVERSION = new Object();

    private final Map<Object, Object> derived = new ConcurrentHashMap<>();

    private final List<PivotAttribute> pivotsLeadingHere = new ArrayList<>();
    private PivotAttribute.@Nullable Pivot pivot;
    private List<UniqueKey> uniqueKeys = List.of();
    private Rules rules = Rules.NONE;
    private List<StoredAttribute> keyAttributes = List.of();
    private @Nullable EntityKey key;
    private ColumnSet.@Nullable Sets columnSets;
    private List<StoredColumn> columns = List.of();
    private List<StoredColumn> columnsWithRow = List.of();
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
        names.add(all);
        attributes = Attributes.of(all);
        this.keyAttributes = List.copyOf(attributes.stored().subList(0, keyAttributes));
        keySource = source;
        List<UniqueKey> keys = new ArrayList<>(declared.uniques());
        keys.add(0, new UniqueKey(this.keyAttributes, true, null));
        uniqueKeys = List.copyOf(keys);
        rules = declared;
        declared.listeners().forEach(listener -> heard.add(listener.event()));
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

    /** Whether any of its values goes through a converter of the user's, or into an object of his that it is a part of. */
    public boolean isConverted() {
        return derived(CONVERSION, () -> stored().stream().anyMatch(StoredAttribute::isConverted));
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
        columns = columns(stored());
        columnsWithRow = columns(withRow());
        key = new EntityKey(keyAttributes(), stored().size(), keySource());
        columnSets = new ColumnSet.Sets(this);
    }

    /** The attributes of the key, one or more; the first of the stored ones. */
    public List<StoredAttribute> keyAttributes() {
        return keyAttributes;
    }

    /** How a key lies in columns. A key of several attributes is the list of their values. */
    public Shape keyShape() {
        return key().shape();
    }

    /** The columns of the key. */
    public List<StoredColumn> keyColumns() {
        return key == null ? List.of() : key.columns();
    }

    /** All columns, those of the key first. */
    public List<StoredColumn> columns() {
        return columns;
    }

    /** The columns that are read with a row, those of the key first. */
    public List<StoredColumn> columnsWithRow() {
        return columnsWithRow;
    }

    /** Sets of attributes, as what statements write. */
    public ColumnSet.Sets columnSets() {
        return Objects.requireNonNull(columnSets, () -> "the columns of " + name + " are not known yet");
    }

    /** The columns of some attributes, in order. */
    public static List<StoredColumn> columns(List<StoredAttribute> attributes) {
        return attributes.stream()
                .flatMap(attribute -> attribute.columns().stream())
                .toList();
    }

    /** The key in a row, which is given as the values of the attributes by slot; null while a part is missing. */
    public @Nullable Object keyIn(@Nullable Object[] row) {
        return key().in(row);
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
        return attributes.stored();
    }

    public List<LinkAttribute> links() {
        return attributes.links();
    }

    /** The attributes whose values are read with a row. */
    public List<StoredAttribute> withRow() {
        return attributes.withRow();
    }

    /** The attributes whose values are read on request. */
    public List<StoredAttribute> laters() {
        return attributes.laters();
    }

    public List<LinksAttribute> toManys() {
        return attributes.toManys();
    }

    /** Those of them that do not store their elements along. */
    public List<LinksAttribute> toManysWithoutCascade() {
        return attributes.toManysWithoutCascade();
    }

    /** All associations to many, over pivots or not. */
    public List<ToMany> allToManys() {
        return attributes.allToManys();
    }

    /** Those of the watched attributes whose values lie in holders. */
    public List<StoredAttribute> watchedHolders() {
        return attributes.watchedHolders();
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
            known = new RowHandles(attributes, watched());
            rowHandles = known;
        }
        return known;
    }

    /** The attributes in which a user may change something: neither versions nor what the database computes. */
    public List<StoredAttribute> watched() {
        List<StoredAttribute> known = watched;
        if (known == null) {
            known = stored().stream().filter(one -> !one.isManaged()).toList();
            watched = known;
        }
        return known;
    }

    /** What a flush alone gives values to, besides keys: versions, stamps, what the database computes. */
    public List<ColumnAttribute> filledIn() {
        List<ColumnAttribute> known = filledIn;
        if (known == null) {
            Set<ColumnAttribute> all = new LinkedHashSet<>(insertStamps());
            all.addAll(updateStamps());
            for (StoredAttribute attribute : stored()) {
                if (attribute.isManaged() && attribute instanceof ColumnAttribute column) {
                    all.add(column);
                }
            }
            known = List.copyOf(all);
            filledIn = known;
        }
        return known;
    }

    /** Whether its objects have links or values that are read later, which have to know their unit. */
    public boolean hasHolders() {
        return attributes.haveHolders();
    }

    /** Pivots of any entity whose elements are of this one. */
    public List<PivotAttribute> pivotsLeadingHere() {
        return pivotsLeadingHere;
    }

    /** One-to-one associations whose foreign key the other end holds. */
    public List<InverseAttribute> inverses() {
        return attributes.inverses();
    }

    public List<PivotAttribute> pivots() {
        return attributes.pivots();
    }

    public List<PartsAttribute> parts() {
        return attributes.parts();
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
        return attributes.at(slot);
    }

    /** The attributes in whose values the database has a part. */
    public List<StoredAttribute> databaseMade() {
        return attributes.databaseMade();
    }

    /** The attributes to which the database gives other values when a row is updated. */
    public List<StoredAttribute> madeByUpdate() {
        return attributes.madeByUpdate();
    }

    /** The indexes that are declared. */
    public List<IndexRule> indexes() {
        return rules.indexes();
    }

    /** The conditions that the database holds every row to. */
    public List<CheckRule> checks() {
        return rules.checks();
    }

    /** The attribute that counts the updates of a row, where one is declared. */
    public @Nullable ColumnAttribute version() {
        return rules.version();
    }

    /** The times that are set when a row is inserted; those that are set with each update count too. */
    public List<ColumnAttribute> insertStamps() {
        return rules.insertStamps();
    }

    /** Links whose other sides delete what is taken out of them. */
    public List<LinkAttribute> linksOfOrphans() {
        List<LinkAttribute> known = linksOfOrphans;
        if (known == null) {
            known = links().stream().filter(LinkAttribute::removesOrphans).toList();
            linksOfOrphans = known;
        }
        return known;
    }

    /** The times that are set when a row is updated. */
    public List<ColumnAttribute> updateStamps() {
        return rules.updateStamps();
    }

    /** Who wants to know of an event at a moment. */
    public List<Listener> listeners(Event event, Listener.Moment moment) {
        return heard.contains(event)
                ? rules.listeners().stream()
                        .filter(listener -> listener.event() == event && listener.moment() == moment)
                        .toList()
                : List.of();
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

    /** A new, empty object. */
    public E instantiate() {
        return Objects.requireNonNull(constructor.get(), () -> "the constructor given for " + name + " returned null");
    }

    /** The key that the database draws, in the object that carries it; null while it has not been drawn. */
    public @Nullable Object drawnKeyOf(Object object) {
        return key().drawnIn(object);
    }

    /** The key that an object itself tells, by what its links lead to if need be; null while it has none. */
    public @Nullable Object keyOf(Object object) {
        return key().of(object);
    }

    /** Takes a drawn key back from an object. */
    public void clearKey(Object object) {
        key().clear(object);
    }

    private EntityKey key() {
        if (key == null) {
            throw new IllegalStateException("the key of " + name + " is not known yet");
        }
        return key;
    }

    /**
     * The attribute that an accessor names.
     *
     * @throws BathraException when this entity has none such
     */
    public Attribute attribute(Accessor accessor) {
        return names.named(accessor);
    }

    /**
     * The attribute of this name.
     *
     * @throws BathraException when this entity has none such
     */
    public Attribute attribute(String attributeName) {
        return names.named(attributeName);
    }

    /** All attributes, those of the key first. */
    public Collection<Attribute> attributes() {
        return names.all();
    }

    /** The attribute of a name, if there is one. */
    public Optional<Attribute> attributeIfAny(String attributeName) {
        return names.ifAny(attributeName);
    }

    /**
     * The column that an accessor names; behind the accessor of an inlined value, those that lead into it.
     *
     * @throws BathraException when they name none, or more than one
     */
    public StoredColumn column(List<Accessor> way) {
        return names.column(way);
    }

    /**
     * What somebody makes of the declared model alone, made once.
     *
     * @param what tells it from everything else that is made of this entity; a constant of whoever makes it
     * @param made it must be immutable, or not be changed by anybody
     */
    @SuppressWarnings("unchecked") // only whoever knows the constant puts something there
    public <T> T derived(Object what, Supplier<T> made) {
        Object known = derived.get(what);
        if (known == null) {
            known = made.get();
            derived.put(what, known);
        }
        return (T) known;
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
