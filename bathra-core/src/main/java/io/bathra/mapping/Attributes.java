package io.bathra.mapping;

import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * The attributes of an entity by what they are, each list made once. Immutable.
 *
 * @param stored those with a column, in the order of the columns; the key comes first
 * @param withRow the stored ones that are read with a row
 * @param laters the stored ones that are read on request
 * @param watchedHolders the stored ones whose values lie in holders
 * @param toManysWithoutCascade those that do not store their elements along
 * @param allToManys associations to many, over pivots or not
 * @param inverses one-to-one associations whose foreign key the other end holds
 * @param databaseMade the stored ones in whose values the database has a part
 * @param madeByUpdate those of them that it changes with each update
 * @param associations those whose holders may ask to be read, by slot
 */
record Attributes(
        List<StoredAttribute> stored,
        List<LinkAttribute> links,
        List<StoredAttribute> withRow,
        List<StoredAttribute> laters,
        List<StoredAttribute> watchedHolders,
        List<LinksAttribute> toManys,
        List<LinksAttribute> toManysWithoutCascade,
        List<ToMany> allToManys,
        List<InverseAttribute> inverses,
        List<PivotAttribute> pivots,
        List<PartsAttribute> parts,
        List<StoredAttribute> databaseMade,
        List<StoredAttribute> madeByUpdate,
        Map<Integer, Attribute> associations) {
    static final Attributes NONE = of(List.of());

    static Attributes of(List<Attribute> all) {
        List<StoredAttribute> stored = pick(all, StoredAttribute.class);
        List<LinksAttribute> toManys = pick(all, LinksAttribute.class);
        List<PivotAttribute> pivots = pick(all, PivotAttribute.class);
        List<InverseAttribute> inverses = pick(all, InverseAttribute.class);
        List<ToMany> many = new ArrayList<>(toManys);
        many.addAll(pivots);
        List<StoredAttribute> made = stored.stream()
                .filter(attribute -> attribute.databaseMade() != null)
                .toList();
        Map<Integer, Attribute> associations = new HashMap<>();
        toManys.forEach(links -> associations.put(links.slot(), links));
        inverses.forEach(link -> associations.put(link.slot(), link));
        pivots.forEach(pivot -> associations.put(pivot.slot(), pivot));
        return new Attributes(
                stored,
                pick(all, LinkAttribute.class),
                stored.stream().filter(attribute -> !attribute.isLater()).toList(),
                walked(stored.stream().filter(StoredAttribute::isLater).toList()),
                stored.stream()
                        .filter(attribute -> attribute.isLink() || attribute.isLater())
                        .toList(),
                toManys,
                walked(toManys.stream().filter(links -> !links.cascades()).toList()),
                walked(many),
                inverses,
                pivots,
                pick(all, PartsAttribute.class),
                walked(made),
                walked(made.stream().filter(Attributes::changesOnUpdate).toList()),
                associations);
    }

    private static boolean changesOnUpdate(StoredAttribute attribute) {
        return Objects.requireNonNull(attribute.databaseMade()).changesOnUpdate();
    }

    private static <A> List<A> pick(List<Attribute> all, Class<A> kind) {
        return walked(all.stream().filter(kind::isInstance).map(kind::cast).toList());
    }

    /**
     * An immutable list that is walked for each object of each flush: the empty one of {@code List.of} makes an
     * iterator each time.
     */
    private static <A> List<A> walked(List<A> list) {
        return list.isEmpty() ? Collections.emptyList() : List.copyOf(list);
    }

    /** Whether objects have links or values that are read later, which have to know their unit. */
    boolean haveHolders() {
        return !links.isEmpty() || !inverses.isEmpty() || !allToManys.isEmpty() || !laters.isEmpty();
    }

    /** The attribute with a slot, whose holder may ask to be read. */
    Attribute at(int slot) {
        return slot < stored.size() ? stored.get(slot) : Objects.requireNonNull(associations.get(slot));
    }
}
