package io.bathra.model;

import io.bathra.access.Accessor;
import io.bathra.attr.Converter;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.FieldAccess;
import io.bathra.mapping.FieldHandles;
import io.bathra.mapping.Gate;
import io.bathra.mapping.InlineCodec;
import io.bathra.model.ColumnAssembly.Declared;
import io.bathra.model.ColumnAssembly.Typed;
import java.lang.invoke.MethodHandle;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Makes the columns of an inlined value, a record or an object of a class, and the way into it and out of it. */
final class InlineAssembly {
    private final TableScope scope;
    private final ColumnAssembly columns;
    private final String attribute;
    private final List<Options.Within> withins;
    private final Set<Options.Within> used = new HashSet<>();
    private final boolean linksAllowed;

    private final List<ColumnAttribute.Part> parts = new ArrayList<>();
    private final List<PersistentField> links = new ArrayList<>();
    private boolean secret;

    /**
     * @param attribute the attribute, as faults name it
     * @param options those of the attribute
     * @param linksAllowed whether links may be among the members
     */
    InlineAssembly(TableScope scope, ColumnAssembly columns, String attribute, List<?> options, boolean linksAllowed) {
        this.scope = scope;
        this.columns = columns;
        this.attribute = attribute;
        this.linksAllowed = linksAllowed;
        this.withins = options.stream()
                .filter(Options.Within.class::isInstance)
                .map(Options.Within.class::cast)
                .toList();
    }

    /**
     * The way into and out of a value.
     *
     * @param prefix what the names of its columns begin with
     * @param always whether there is a value even where all columns are empty
     * @return null, with a fault, when it cannot be inlined
     */
    @Nullable
    InlineCodec codec(Class<?> type, String prefix, boolean always) {
        InlineCodec codec = codec(type, prefix, "", always, Set.of(type));
        for (Options.Within within : withins) {
            if (codec != null && !used.contains(within)) {
                scope.fault(
                        attribute,
                        "has options within(" + within.path().get(0) + ", ...), which names no member of "
                                + type.getSimpleName());
            }
        }
        if (codec != null && parts.isEmpty()) {
            scope.fault(attribute, "is a " + type.getSimpleName() + ", which has no member that is a column");
            return null;
        }
        return codec;
    }

    /** The columns, in the order of the members. */
    List<ColumnAttribute.Part> parts() {
        return parts;
    }

    /** The members that are links. */
    List<PersistentField> links() {
        return links;
    }

    boolean isSecret() {
        return secret;
    }

    /** What is declared of a member. */
    List<?> optionsOf(String member) {
        Options.Within within = within(List.of(member));
        return within == null ? List.of() : within.options();
    }

    private Options.@Nullable Within within(List<String> path) {
        for (Options.Within within : withins) {
            boolean same = within.path().size() == path.size();
            for (int i = 0; same && i < path.size(); i++) {
                Accessor accessor = within.path().get(i);
                same = accessor.property().equals(path.get(i))
                        || accessor.beanProperty().equals(path.get(i));
            }
            if (same) {
                used.add(within);
                return within;
            }
        }
        return null;
    }

    private @Nullable InlineCodec codec(
            Class<?> type, String prefix, String path, boolean always, Set<Class<?>> around) {
        Function<List<@Nullable Object>, Object> maker;
        List<PersistentField> fields = PersistentField.of(type);
        List<FieldAccess> ways = new ArrayList<>();
        for (PersistentField field : fields) {
            FieldAccess way = scope.open(field);
            if (way == null) {
                return null;
            }
            ways.add(way);
        }
        try {
            maker = type.isRecord() ? recordMaker(type) : classMaker(type, fields, ways);
        } catch (IllegalAccessException e) {
            scope.fault(
                    attribute,
                    "is a " + type.getSimpleName() + ", which cannot be made; give the class a constructor without"
                            + " parameters, make it a record, or give a Converter (" + e.getMessage() + ")");
            return null;
        }
        List<InlineCodec.Member> members = new ArrayList<>();
        for (int i = 0; i < fields.size(); i++) {
            InlineCodec.Member member = member(type, fields.get(i), ways.get(i), prefix, path, around);
            if (member == null) {
                return null;
            }
            members.add(member);
        }
        return new InlineCodec(members, maker, always);
    }

    private InlineCodec.@Nullable Member member(
            Class<?> owner, PersistentField field, FieldAccess way, String prefix, String path, Set<Class<?>> around) {
        String memberPath = path.isEmpty() ? field.name() : path + "." + field.name();
        String place = attribute + "." + memberPath;
        if (field.isHolder() || field.isCollection()) {
            if (field.isLink() && linksAllowed && path.isEmpty()) {
                within(List.of(field.name()));
                links.add(field);
                return new InlineCodec.Member(way, null, InlineCodec.link());
            }
            scope.fault(
                    place,
                    "is a " + field.type().getSimpleName() + ", which cannot be inside an inlined value; keep it in the"
                            + " entity");
            return null;
        }
        if (field.isFinal() && !owner.isRecord()) {
            scope.fault(place, "is final, but is written when a row is read; remove `final`, or make it transient");
            return null;
        }
        Options.Within within = within(List.of(memberPath.split("\\.")));
        List<ColumnOption> options = within == null ? List.of() : within.options();
        Converter<?, ?> converter = within == null ? null : within.converter();
        boolean column =
                converter != null || EntityAssembly.has(options, Options.Json.class) || !isInlinable(field.type());
        if (!column) {
            if (around.contains(field.type())) {
                scope.fault(place, "contains itself, so its columns would never end");
                return null;
            }
            Set<Class<?>> deeper = new HashSet<>(around);
            deeper.add(field.type());
            InlineCodec nested = codec(field.type(), prefix + field.name() + "_", memberPath, false, deeper);
            return nested == null ? null : new InlineCodec.Member(way, null, nested);
        }
        Typed typed = columns.typed(Declared.of(place, field, converter, options, false));
        if (typed == null) {
            return null;
        }
        for (Object option : options) {
            if (option instanceof Options.Made || option instanceof Options.Unique) {
                scope.fault(
                        place,
                        "is inside an inlined value, where unique() and values made by the database are not known;"
                                + " declare unique(...) of the whole value, or make it a column of the entity");
            }
        }
        secret |= EntityAssembly.has(options, Options.Secret.class);
        String name = scope.columnName(prefix + field.name(), options);
        scope.claimColumn(name, attribute + "." + memberPath);
        boolean required = field.type().isPrimitive() || EntityAssembly.has(options, Options.Required.class);
        Gate gate = typed.gate(columns.place(place), options);
        parts.add(new ColumnAttribute.Part(memberPath, name, gate, required));
        return new InlineCodec.Member(way, gate, null);
    }

    /** Whether a class has members of its own, so that it is no column as it is. */
    static boolean isInlinable(Class<?> type) {
        return type.isRecord()
                || (!type.isPrimitive()
                        && !type.isArray()
                        && !type.isEnum()
                        && !type.isInterface()
                        && type.getModule() != Object.class.getModule()
                        && !type.getName().startsWith("java."));
    }

    private Function<List<@Nullable Object>, Object> recordMaker(Class<?> type) throws IllegalAccessException {
        List<Class<?>> parameters = new ArrayList<>();
        for (PersistentField field : PersistentField.of(type)) {
            parameters.add(field.field().getType());
        }
        MethodHandle constructor = FieldHandles.constructor(type, parameters, scope.lookup());
        return values -> {
            for (int i = 0; i < parameters.size(); i++) {
                if (values.get(i) == null && parameters.get(i).isPrimitive()) {
                    throw new IllegalStateException("a row has nothing for a " + parameters.get(i) + " of "
                            + type.getSimpleName() + "; mend the row, or declare the member as an object");
                }
            }
            return made(type, () -> constructor.invokeWithArguments(values));
        };
    }

    /** A final holder stays the one that the object was made with. */
    private Function<List<@Nullable Object>, Object> classMaker(
            Class<?> type, List<PersistentField> fields, List<FieldAccess> ways) throws IllegalAccessException {
        MethodHandle constructor = FieldHandles.constructor(type, List.of(), scope.lookup());
        return values -> {
            Object object = made(type, constructor::invoke);
            for (int i = 0; i < ways.size(); i++) {
                if (!fields.get(i).isHolder() || !fields.get(i).isFinal()) {
                    ways.get(i).set(object, values.get(i));
                }
            }
            return object;
        };
    }

    private interface Making {
        @Nullable
        Object make() throws Throwable;
    }

    private static Object made(Class<?> type, Making making) {
        try {
            return Objects.requireNonNull(making.make());
        } catch (RuntimeException | Error e) {
            throw e;
        } catch (Throwable e) {
            throw new IllegalStateException("cannot make a " + type.getName(), e);
        }
    }
}
