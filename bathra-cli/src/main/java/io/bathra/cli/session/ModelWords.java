package io.bathra.cli.session;

import io.bathra.form.EntityForm;
import io.bathra.form.FormField;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import java.lang.reflect.Constructor;
import java.lang.reflect.Method;
import java.lang.reflect.Modifier;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The classes of a model, with those that their methods speak of, as entries can name them. */
final class ModelWords {
    private final Map<String, Class<?>> bySimpleName = new LinkedHashMap<>();
    private final Map<Class<?>, List<String>> attributes = new HashMap<>();
    private final Set<String> hidden = new LinkedHashSet<>();

    ModelWords(Model model) {
        Set<Class<?>> found = new LinkedHashSet<>();
        Set<String> rooms = new LinkedHashSet<>();
        for (EntityOutline entity : model.entities()) {
            if (entity.kind() == EntityOutline.Kind.ENTITY || entity.kind() == EntityOutline.Kind.VIEW) {
                found.add(entity.type());
                attributes.put(
                        entity.type(),
                        EntityForm.of(model, entity.type()).fields().stream()
                                .map(FormField::name)
                                .toList());
                rooms.add(entity.type().getPackageName());
            }
        }
        List<Class<?>> waiting = new ArrayList<>(found);
        for (int i = 0; i < waiting.size(); i++) {
            for (Class<?> spoken : spokenOf(waiting.get(i))) {
                if (rooms.contains(spoken.getPackageName()) && found.add(spoken)) {
                    waiting.add(spoken);
                }
            }
        }
        for (Class<?> type : found) {
            if (isReachable(type)) {
                bySimpleName.putIfAbsent(type.getSimpleName(), type);
                for (Class<?> around = type.getEnclosingClass(); around != null; around = around.getEnclosingClass()) {
                    bySimpleName.putIfAbsent(around.getSimpleName(), around);
                }
            } else {
                hidden.add(type.getSimpleName());
            }
        }
    }

    private static boolean isReachable(Class<?> type) {
        Class<?> around = type.getEnclosingClass();
        return Modifier.isPublic(type.getModifiers())
                && type.getCanonicalName() != null
                && (around == null || isReachable(around));
    }

    private static Set<Class<?>> spokenOf(Class<?> type) {
        Set<Class<?>> spoken = new LinkedHashSet<>();
        for (Method method : type.getDeclaredMethods()) {
            add(spoken, method.getGenericReturnType());
            Arrays.stream(method.getGenericParameterTypes()).forEach(one -> add(spoken, one));
        }
        for (Constructor<?> constructor : type.getDeclaredConstructors()) {
            Arrays.stream(constructor.getGenericParameterTypes()).forEach(one -> add(spoken, one));
        }
        return spoken;
    }

    private static void add(Set<Class<?>> spoken, Type type) {
        if (type instanceof Class<?> plain) {
            Class<?> element = plain;
            while (element.isArray()) {
                element = element.getComponentType();
            }
            spoken.add(element);
        } else if (type instanceof ParameterizedType several) {
            add(spoken, several.getRawType());
            Arrays.stream(several.getActualTypeArguments()).forEach(one -> add(spoken, one));
        }
    }

    /** A line of imports for each class that entries can name. */
    List<String> imports() {
        return bySimpleName.values().stream()
                .filter(type -> !type.getPackageName().isEmpty())
                .map(type -> "import " + type.getCanonicalName() + ";")
                .toList();
    }

    /** Classes of the model that are not public, so that no entry can name them. */
    Set<String> hidden() {
        return hidden;
    }

    /** Whether a class of the model has a method that entries must not call. */
    boolean hides(String simpleName, String method) {
        Class<?> type = bySimpleName.get(simpleName);
        return type != null
                && Arrays.stream(type.getDeclaredMethods())
                        .anyMatch(one -> one.getName().equals(method) && !Modifier.isPublic(one.getModifiers()));
    }

    boolean has(String simpleName) {
        return bySimpleName.containsKey(simpleName);
    }

    Set<String> names() {
        return bySimpleName.keySet();
    }

    /** The methods without arguments of a class of the model, attributes in their order first; none of any other. */
    List<Method> accessors(String simpleName) {
        Class<?> type = bySimpleName.get(simpleName);
        if (type == null) {
            return List.of();
        }
        Map<String, Method> methods = new LinkedHashMap<>();
        for (@Nullable Class<?> one = type; one != null && one != Object.class; one = one.getSuperclass()) {
            Arrays.stream(one.getDeclaredMethods())
                    .filter(method -> method.getParameterCount() == 0
                            && method.getReturnType() != void.class
                            && Modifier.isPublic(method.getModifiers())
                            && !Modifier.isStatic(method.getModifiers())
                            && !method.isSynthetic()
                            && !isOfObject(method))
                    .sorted(Comparator.comparingInt((Method method) -> place(type, method))
                            .thenComparing(Method::getName))
                    .forEach(method -> methods.putIfAbsent(method.getName(), method));
        }
        return List.copyOf(methods.values());
    }

    private int place(Class<?> type, Method method) {
        int at = attributes.getOrDefault(type, List.of()).indexOf(method.getName());
        return at < 0 ? Integer.MAX_VALUE : at;
    }

    private static boolean isOfObject(Method method) {
        return Arrays.stream(Object.class.getMethods())
                .anyMatch(one -> one.getName().equals(method.getName()) && one.getParameterCount() == 0);
    }
}
