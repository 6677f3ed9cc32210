package io.bathra.model;

import io.bathra.access.Accessor;
import io.bathra.attr.Attr;
import io.bathra.attr.Converter;
import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.KeySource;
import io.bathra.query.Ordering;
import io.bathra.question.QueryDoor;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** The words of a declaration; made for a static import. */
public final class Declare {
    private Declare() {}

    /** {@return the database draws the keys of new entities} What convention assumes for whole-number keys. */
    public static KeyOption generated() {
        return new Options.Source(KeySource.GENERATED);
    }

    /**
     * {@return a sequence draws the keys, which several tables may share} It is created with the tables where the
     * database has none of this name; SQLite has no sequences at all.
     *
     * @param block how many keys each of its values stands for; a sequence that exists must have this increment
     * @param name the name
     * @throws IllegalArgumentException when the block is below 1
     */
    public static KeyOption sequence(String name, int block) {
        if (block < 1 || name.isBlank()) {
            throw new IllegalArgumentException("sequence(\"" + name + "\", " + block
                    + "): write a name, and how many keys a value stands for, at least 1");
        }
        return new Options.Source(new KeySource.Sequence(name, block));
    }

    /**
     * {@return a table holds the next key, for databases or shops without sequences} Several entities, and several
     * processes, may draw from one: whoever draws holds the entity's line until the transaction ends.
     *
     * @param startAt the first key
     * @param name the name
     */
    public static KeyOption keyTable(String name, long startAt) {
        if (name.isBlank()) {
            throw new IllegalArgumentException("keyTable(\"" + name + "\", " + startAt + "): the table needs a name");
        }
        return new Options.Source(new KeySource.KeyTable(name, startAt));
    }

    /**
     * UUIDs of version 7 (RFC 9562), which sort by the time at which they were made.
     *
     * @return the option
     */
    public static KeyOption timeOrdered() {
        return new Options.Source(KeySource.TIME_ORDERED);
    }

    /** {@return the program sets the keys of new entities} What convention assumes for all keys but whole numbers. */
    public static KeyOption assigned() {
        return new Options.Source(KeySource.ASSIGNED);
    }

    /**
     * Must have a value. Primitive attributes are required in any case.
     *
     * @return the option
     */
    public static SharedOption required() {
        return new Options.Required();
    }

    /** {@return no two rows may have the same value} Rows without a value do not count. */
    public static SharedOption unique() {
        return new Options.Unique();
    }

    /**
     * {@return the greatest length of a text} Without it there is no limit, but for texts that are unique or a key:
     * those keep 255.
     *
     * @param units in UTF-16 units, as {@code String.length()} counts
     * @throws IllegalArgumentException when it is below 1
     */
    public static ColumnOption length(int units) {
        if (units < 1) {
            throw new IllegalArgumentException("length(" + units + "): a text needs room for 1 unit at least");
        }
        return new Options.Length(units);
    }

    /**
     * {@return the database gives new rows without a value this one, which the object has after the flush}
     *
     * @param sql an expression in the database's own words, such as {@code current_timestamp}
     */
    public static ColumnOption databaseDefault(String sql) {
        return new Options.Made(new DatabaseMade.Default(sql));
    }

    /**
     * {@return the database computes the value from other columns of the row} It is never written; the object has it
     * after the flush.
     *
     * @param sql an expression in the database's own words, such as {@code length_metres * beam_metres}
     */
    public static ColumnOption computed(String sql) {
        return new Options.Made(new DatabaseMade.Computed(sql));
    }

    /** {@return a trigger may change what is written; the object has the outcome after the flush} */
    public static ColumnOption changedByDatabase() {
        return new Options.Made(new DatabaseMade.Changed());
    }

    /** {@return values never appear in messages, traces or logs} */
    public static ColumnOption secret() {
        return new Options.Secret();
    }

    /** {@return a text of any length: a report, a letter} It cannot be unique or part of a key. */
    public static ColumnOption text() {
        return new Options.LongText();
    }

    /** {@return an object of any type, kept as JSON text} The application provides a {@link JsonCodec}. */
    public static ColumnOption json() {
        return new Options.Json();
    }

    /**
     * {@return the digits of a decimal: {@code digits(7, 2)} keeps up to 99999.99} Without it, 15 digits with 4 after
     * the point.
     *
     * @param precision digits altogether
     * @param scale digits behind the point
     * @throws IllegalArgumentException when there is no digit, or more after the point than there are
     */
    public static ColumnOption digits(int precision, int scale) {
        if (precision < 1 || scale < 0 || scale > precision) {
            throw new IllegalArgumentException("digits(" + precision + ", " + scale
                    + "): write digits(all of them, those after the point), such as digits(7, 2)");
        }
        return new Options.Digits(precision, scale);
    }

    // ---- inlined values and parts

    /**
     * Options for one member of an inlined value or part: {@code within(Dimensions::beam, digits(5, 2),
     * name("beam_m"))}.
     *
     * @param <C> the class
     * @param member the member, by its accessor
     * @param options what is said of it
     * @return the option
     */
    public static <C> MemberOption within(Attr<C, ?> member, ColumnOption... options) {
        return new Options.Within(List.of(Accessor.of(member)), null, List.of(options));
    }

    /**
     * Options for a member of a value that is inlined in an inlined value or part.
     *
     * @param <C> the class
     * @param <D> a value that is selected
     * @param member the member, by its accessor
     * @param inner the member inside, by its accessor
     * @param options what is said of it
     * @return the option
     */
    public static <C, D> MemberOption within(Attr<C, D> member, Attr<D, ?> inner, ColumnOption... options) {
        return new Options.Within(List.of(Accessor.of(member), Accessor.of(inner)), null, List.of(options));
    }

    /**
     * {@return a member of a type of one's own}
     *
     * @param <C> the class
     * @param <V> the attribute's type
     * @param member the member, by its accessor
     * @param converter what turns values into those of the column and back
     * @param options what is said of it
     */
    public static <C, V> MemberOption within(
            Attr<C, ? extends @Nullable V> member, Converter<V, ?> converter, ColumnOption... options) {
        return new Options.Within(List.of(Accessor.of(member)), converter, List.of(options));
    }

    /**
     * {@return what the names of an inlined value's columns begin with, where the attribute's name and an underscore
     * does not fit}
     *
     * @param prefix what column names begin with
     */
    public static InlineOption prefix(String prefix) {
        return new Options.Prefix(prefix);
    }

    /**
     * Options for parts that are simple values: {@code element(length(80))}.
     *
     * @param options what is said of it
     * @return the option
     */
    public static PartsOption element(ColumnOption... options) {
        return new Options.Element(null, List.of(options));
    }

    /**
     * For parts that are values of a type of one's own.
     *
     * @param converter what turns values into those of the column and back
     * @param options what is said of it
     * @return the option
     */
    public static PartsOption element(Converter<?, ?> converter, ColumnOption... options) {
        return new Options.Element(converter, List.of(options));
    }

    /**
     * {@return the name of the table of parts or of a pivot, where the owner's table and the attribute's name do not
     * fit}
     *
     * @param name the name
     */
    public static TableOption table(String name) {
        if (name.isBlank()) {
            throw new IllegalArgumentException("table(\"" + name + "\"): a table's name must not be blank");
        }
        return new Options.TableName(name);
    }

    // ---- associations

    /**
     * New objects at the other end are not stored along: whoever builds them adds them. One that was not added is an
     * error of the flush, which names the way to it.
     *
     * @return the option
     */
    public static AssociationOption noCascade() {
        return new Options.NoCascade();
    }

    /**
     * {@return the order in which a to-many association is read} What is put in later stands at the end until it is
     * read anew.
     *
     * @param <C> the class
     * @param orderings by what it is ordered
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <C> LinksOption<C> orderedBy(Ordering<C>... orderings) {
        return new Options.OrderedBy<>(
                Arrays.stream(orderings).map(QueryDoor.here()::sortKey).toList());
    }

    /** {@return the pivot keeps an order, in a column of its own} */
    public static PivotOption ordered() {
        return new Options.Ordered();
    }

    /**
     * {@return the pivot's rows have a key of their own, with a unique constraint on the pair; else the pair is the
     * key}
     */
    public static PivotOption uniquePair() {
        return new Options.OwnKey();
    }

    /** {@return a check that nothing is paired with itself, for a pivot between an entity and itself} */
    public static PivotOption distinctEnds() {
        return new Options.DistinctEnds();
    }

    /** {@return a unique constraint on the far side: nothing is paired with two} */
    public static PivotOption exclusive() {
        return new Options.Exclusive();
    }

    /**
     * Options for the foreign key of a pivot that leads to the entity that declares it.
     *
     * @param options what is said of it
     * @return the option
     */
    public static PivotOption ownSide(SideOption... options) {
        return new Options.Side(true, List.of(options));
    }

    /**
     * Options for the foreign key of a pivot that leads to the entity at the other end.
     *
     * @param options what is said of it
     * @return the option
     */
    public static PivotOption farSide(SideOption... options) {
        return new Options.Side(false, List.of(options));
    }

    /**
     * {@return what happens to the rows of this table when the row that they lead to is removed} Without it, a link
     * refuses the removal, and the pairs of a pivot go too. The rule is written into the foreign key.
     *
     * @param rule the rule
     */
    public static DeleteOption onDelete(DeleteRule rule) {
        return new Options.OnDelete(Objects.requireNonNull(rule, "rule"));
    }

    /**
     * {@return who carries {@code onDelete(...)} out} With {@code UNIT} the foreign key has no rule, and the unit of
     * work deletes or empties the rows itself, a statement for each table: for a schema that may not be changed.
     *
     * @param enforcer who carries the rule out
     */
    public static LinkOption enforcedBy(Enforcer enforcer) {
        return new Options.EnforcedBy(Objects.requireNonNull(enforcer, "enforcer"));
    }

    /** {@return an element that is taken out of the collection, and put into no other, is removed} */
    public static LinksOption<Object> removeOrphans() {
        return new Options.RemoveOrphans();
    }

    /**
     * {@return the unique constraints and the foreign key of this attribute may be checked at the end of a flush,
     * where the database can: then rings and swaps need no statement more} PostgreSQL can, SQLite for foreign keys;
     * elsewhere it says nothing.
     */
    public static ConstraintOption deferrable() {
        return new Options.Deferrable();
    }

    /**
     * {@return the column's name, where the convention's {@code snake_case} does not fit}
     *
     * @param column the column
     */
    public static NameOption name(String column) {
        if (column.isBlank()) {
            throw new IllegalArgumentException("name(\"" + column + "\"): a column's name must not be blank");
        }
        return new Options.Name(column);
    }
}
