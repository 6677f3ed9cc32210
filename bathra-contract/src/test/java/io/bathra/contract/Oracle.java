package io.bathra.contract;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;

/**
 * What a unit of work and its database should hold, in plain maps: what was committed, and what the user has asked for
 * since, flush by flush. After a rollback the second is done to the first again.
 */
final class Oracle {
    /** What is known of a crate. */
    static final class Plain {
        int weight;
        String note;
        String on;
        List<String> seals = List.of();
        final Set<String> beside = new TreeSet<>();

        private Plain copy() {
            Plain copy = new Plain();
            copy.weight = weight;
            copy.note = note;
            copy.on = on;
            copy.seals = seals;
            copy.beside.addAll(beside);
            return copy;
        }
    }

    /**
     * Something that the user has asked for.
     *
     * @param object the code of the object that he has asked it of; empty for a row without an object
     */
    private record Wish(String object, Consumer<Map<String, Plain>> change) {}

    /** How things stood at some time. */
    record Moment(Map<String, Plain> crates, List<Object> wishes, Set<String> made) {}

    private Map<String, Plain> now = new TreeMap<>();
    private Map<String, Plain> flushed = new TreeMap<>();
    private Map<String, Plain> committed = new TreeMap<>();
    private final List<Wish> wishes = new ArrayList<>();

    /**
     * Crates that nobody asks for again when this transaction goes back: statements have made them, or they were let
     * go.
     */
    private final Set<String> made = new HashSet<>();

    Set<String> codes() {
        return now.keySet();
    }

    Plain of(String code) {
        return now.get(code);
    }

    /** Whether a crate was there when the transaction began, and still is. */
    boolean isOld(String code) {
        return committed.containsKey(code) && now.containsKey(code);
    }

    boolean isMade(String code) {
        return made.contains(code);
    }

    /** Whether a crate is gone that was there when the transaction began. */
    boolean hasRemovals() {
        return !now.keySet().containsAll(committed.keySet());
    }

    /** The codes of the crates with some weight and more, or with less. */
    List<String> weighing(int weight, boolean orMore) {
        return now.entrySet().stream()
                .filter(one -> orMore == one.getValue().weight >= weight)
                .map(Map.Entry::getKey)
                .toList();
    }

    List<String> above(String code) {
        return now.entrySet().stream()
                .filter(one -> code.equals(one.getValue().on))
                .map(Map.Entry::getKey)
                .toList();
    }

    List<String> describe() {
        return now.entrySet().stream()
                .map(one -> one.getKey() + " " + one.getValue().weight + " " + one.getValue().note + " "
                        + one.getValue().seals + " on " + one.getValue().on + " beside " + one.getValue().beside
                        + " below " + above(one.getKey()))
                .toList();
    }

    // ---- what the user does

    Plain add(String code) {
        Plain fresh = new Plain();
        now.put(code, fresh);
        return fresh;
    }

    void remove(String code) {
        gone(now, code);
    }

    private static void gone(Map<String, Plain> crates, String code) {
        crates.remove(code);
        crates.values().forEach(plain -> plain.beside.remove(code));
    }

    /** He asks for the weight of a row, not of an object. */
    void weighRow(String code, int weight) {
        Wish wish = new Wish("", changing(code, plain -> plain.weight = weight));
        wishes.add(wish);
        wish.change().accept(now);
        flushed = copy(now);
    }

    /** He lets an object go, and with it whatever he has asked of it. */
    void letGo(String object) {
        wishes.removeIf(wish -> wish.object().equals(object));
        if (!committed.containsKey(object)) {
            made.add(object);
        }
    }

    // ---- what statements do, and others, when nothing is pending

    void makeRow(String code, int weight) {
        add(code).weight = weight;
        made.add(code);
        flushed = copy(now);
    }

    void changeRows(List<String> codes, Consumer<Plain> change) {
        codes.forEach(code -> change.accept(now.get(code)));
        flushed = copy(now);
    }

    void deleteRow(String code) {
        gone(now, code);
        flushed = copy(now);
    }

    // ---- the transaction

    void flush() {
        wishes.addAll(asked());
        flushed = copy(now);
    }

    /** What is asked for and not flushed yet. */
    private List<Wish> asked() {
        List<Wish> asked = new ArrayList<>();
        now.forEach((code, plain) -> {
            Plain before = flushed.get(code);
            if (before == null) {
                Plain fresh = plain.copy();
                asked.add(new Wish(code, crates -> crates.put(code, fresh.copy())));
            } else {
                asked(code, before, plain.copy(), asked);
            }
        });
        flushed.keySet().stream()
                .filter(code -> !now.containsKey(code))
                .forEach(code -> asked.add(new Wish(code, crates -> gone(crates, code))));
        return asked;
    }

    private static void asked(String code, Plain before, Plain after, List<Wish> asked) {
        List<Consumer<Plain>> changes = new ArrayList<>();
        if (before.weight != after.weight) {
            changes.add(plain -> plain.weight = after.weight);
        }
        if (!Objects.equals(before.note, after.note)) {
            changes.add(plain -> plain.note = after.note);
        }
        if (!Objects.equals(before.on, after.on)) {
            changes.add(plain -> plain.on = after.on);
        }
        if (!before.seals.equals(after.seals)) {
            changes.add(plain -> plain.seals = after.seals);
        }
        Set<String> in = new TreeSet<>(after.beside);
        in.removeAll(before.beside);
        Set<String> out = new TreeSet<>(before.beside);
        out.removeAll(after.beside);
        changes.add(plain -> {
            plain.beside.addAll(in);
            plain.beside.removeAll(out);
        });
        changes.forEach(change -> asked.add(new Wish(code, changing(code, change))));
    }

    private static Consumer<Map<String, Plain>> changing(String code, Consumer<Plain> change) {
        return crates -> {
            if (crates.containsKey(code)) {
                change.accept(crates.get(code));
            }
        };
    }

    void discard() {
        now = copy(flushed);
    }

    void commit() {
        wishes.clear();
        made.clear();
        flushed = copy(now);
        committed = copy(now);
    }

    void rollback() {
        flush();
        now = copy(committed);
        flushed = copy(committed);
        made.clear();
        wishes.forEach(wish -> wish.change().accept(now));
        wishes.clear();
    }

    Moment moment() {
        return new Moment(copy(now), List.copyOf(wishes), Set.copyOf(made));
    }

    void backTo(Moment moment) {
        now = copy(moment.crates());
        flushed = copy(now);
        wishes.clear();
        moment.wishes().forEach(wish -> wishes.add((Wish) wish));
        made.clear();
        made.addAll(moment.made());
    }

    private static Map<String, Plain> copy(Map<String, Plain> crates) {
        Map<String, Plain> copy = new TreeMap<>();
        crates.forEach((code, plain) -> copy.put(code, plain.copy()));
        return copy;
    }
}
