package io.bathra.json;

import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.form.Filling;
import io.bathra.form.FormField;
import io.bathra.form.GroupField;
import io.bathra.form.LinkField;
import io.bathra.form.ValueField;
import io.bathra.form.ValueField.Sort;
import io.bathra.json.format.JsonSource;
import io.bathra.json.format.JsonSource.Token;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Takes values out of tokens: single ones, inlined ones, and keys. */
final class ValueReader {
    /** Longer texts are refused unless the format does so before. */
    private static final int LONGEST = 1_000_000;

    private static final int LONGEST_NAME = 60;

    static final Flaw OBJECT_WANTED = Flaw.of(Code.UNREADABLE, "is no object; give one, with its members", "object");
    static final Flaw LIST_WANTED = Flaw.of(Code.UNREADABLE, "is no list; give one, in brackets", "list");
    static final Flaw GIVEN_TWICE = Flaw.of(Code.GIVEN_TWICE, "is given twice; give it once");
    static final Flaw MISSING = Flaw.of(Code.REQUIRED, "is required; give it a value");

    private static final Flaw VALUE_WANTED =
            Flaw.of(Code.UNREADABLE, "is an object or a list; give a single value", "value");

    private final JsonSource source;
    private final boolean patch;

    ValueReader(JsonSource source, boolean patch) {
        this.source = source;
        this.patch = patch;
    }

    /**
     * The value of a field.
     *
     * @param owner what the field can be asked of for the value that it has now; null where it has none
     * @param label the path to it
     * @param filling takes what is wrong with it
     * @param of the entity's field that it is about
     */
    @Nullable
    Object read(FormField field, Token token, @Nullable Object owner, String label, Filling filling, FormField of) {
        if (token == Token.NOTHING) {
            return null;
        } else if (field instanceof ValueField value) {
            return single(value, token, label, filling, of);
        } else if (field instanceof GroupField group) {
            return group(group, token, patch ? owner : null, label, filling, of);
        }
        return key((LinkField) field, token, label, filling, of);
    }

    private @Nullable Object key(LinkField link, Token token, String label, Filling filling, FormField of) {
        if (!(link.key() instanceof GroupField group)) {
            return read(link.key(), token, null, label, filling, of);
        }
        return wholeKey(group, token, label, filling, of);
    }

    /** A key of which nothing is missing. */
    private @Nullable Object wholeKey(GroupField group, Token token, String label, Filling filling, FormField of) {
        int told = filling.problems().size();
        Object key = group(group, token, null, label, filling, of);
        if (key == null && told == filling.problems().size()) {
            filling.flaw(
                    of, label, null, Flaw.of(Code.REQUIRED, "is a key of which a part is missing; give all of it"));
        }
        return key;
    }

    private @Nullable Object group(
            GroupField group, Token token, @Nullable Object owner, String label, Filling filling, FormField of) {
        if (token != Token.OBJECT) {
            filling.flaw(of, label, shown(token), OBJECT_WANTED);
            skip(token);
            return null;
        }
        List<FormField> members = group.members();
        Object now = owner == null ? null : group.in(owner);
        List<@Nullable Object> values = new ArrayList<>(members.size());
        boolean[] given = new boolean[members.size()];
        for (FormField member : members) {
            values.add(now == null ? null : now(member, now));
        }
        while (source.next() == Token.NAME) {
            String name = source.text();
            String path = label.isEmpty() ? name : label + "." + label(name);
            Token next = source.next();
            int index = indexOf(members, name);
            if (index >= 0 && members.get(index).isSecret()) {
                filling.flaw(
                        of,
                        path,
                        "(secret)",
                        Flaw.of(Code.NOT_TO_BE_SET, "is secret, which no JSON sets; leave it out"));
                skip(next);
            } else if (index < 0) {
                filling.flaw(of, path, shown(next), unknown(members));
                skip(next);
            } else if (given[index]) {
                filling.flaw(of, path, shown(next), GIVEN_TWICE);
                skip(next);
            } else {
                given[index] = true;
                FormField member = members.get(index);
                values.set(index, read(member, next, now, path, filling, of));
            }
        }
        return group.of(values);
    }

    private static Flaw unknown(List<FormField> members) {
        String names = members.stream().map(FormField::name).collect(Collectors.joining(", "));
        return Flaw.of(Code.UNKNOWN_NAME, "is not known here, where there are " + names);
    }

    private static int indexOf(List<FormField> members, String name) {
        for (int i = 0; i < members.size(); i++) {
            if (members.get(i).name().equals(name)) {
                return i;
            }
        }
        return -1;
    }

    /** What a member has now, in the form in which a group takes it. */
    private static @Nullable Object now(FormField member, Object owner) {
        if (member instanceof ValueField value) {
            return value.in(owner);
        }
        GroupField group = (GroupField) member;
        Object content = group.in(owner);
        if (content == null) {
            return null;
        }
        List<@Nullable Object> values = new ArrayList<>();
        group.members().forEach(inner -> values.add(now(inner, content)));
        return group.of(values);
    }

    private @Nullable Object single(ValueField field, Token token, String label, Filling filling, FormField of) {
        if (field.sort() == Sort.JSON) {
            return field.value(RawJson.of(source, token));
        }
        switch (token) {
            case OBJECT, LIST -> {
                filling.flaw(of, label, shown(token), VALUE_WANTED);
                skip(token);
                return null;
            }
            case TRUE, FALSE -> {
                if (field.sort() == Sort.TRUTH) {
                    return token == Token.TRUE;
                }
            }
            case TEXT -> {
                if (source.length() > LONGEST) {
                    filling.flaw(of, label, null, Flaw.of(Code.TOO_LONG, "is longer than any text here", LONGEST));
                    return null;
                } else if (field.sort() != Sort.TRUTH) { // great numbers may come as texts: not every reader has them
                    return parsed(field, source.text(), label, filling, of);
                }
            }
            default -> {
                if (field.sort() == Sort.NUMBER) {
                    return parsed(field, source.text(), label, filling, of);
                }
            }
        }
        filling.flaw(of, label, field.isSecret() ? "(secret)" : shown(token), field.otherSort());
        return null;
    }

    private static @Nullable Object parsed(ValueField field, String text, String label, Filling filling, FormField of) {
        Object value = field.value(text);
        if (value == null) {
            filling.flaw(of, label, field.isSecret() ? "(secret)" : text, field.flaw(text));
        }
        return value;
    }

    /** A token as a problem shows it. */
    @Nullable
    Object shown(Token token) {
        return switch (token) {
            case TEXT -> source.length() > LONGEST ? null : source.text();
            case NUMBER -> source.text();
            case TRUE -> true;
            case FALSE -> false;
            case OBJECT -> "{\u2026}";
            case LIST -> "[\u2026]";
            default -> null;
        };
    }

    /** Goes behind a value. */
    void skip(Token token) {
        if (token == Token.OBJECT || token == Token.LIST) {
            source.skip();
        }
    }

    /** A name of somebody else's as a path shows it. */
    static String label(String name) {
        return Objects.requireNonNull(name).length() > LONGEST_NAME ? name.substring(0, LONGEST_NAME) + "\u2026" : name;
    }
}
