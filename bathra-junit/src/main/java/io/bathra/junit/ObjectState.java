package io.bathra.junit;

import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import java.lang.reflect.Array;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * What the fields of an object hold at a moment, in words: entities behind links by their identity. Collections that show
 * where links of others lead follow those links, and are left out.
 */
final class ObjectState {
    private ObjectState() {}

    static Map<String, String> of(Model model, Object object) {
        Set<String> mirrors = model.entities().stream()
                .filter(entity -> entity.type() == object.getClass())
                .flatMap(entity -> entity.toManys().stream())
                .map(EntityOutline.ToMany::attribute)
                .collect(Collectors.toSet());
        Map<String, String> state = new LinkedHashMap<>();
        for (Class<?> type = object.getClass(); type != null && type != Object.class; type = type.getSuperclass()) {
            for (Field field : type.getDeclaredFields()) {
                boolean own = !Modifier.isStatic(field.getModifiers()) && !mirrors.contains(field.getName());
                if (own && field.trySetAccessible()) {
                    try {
                        state.put(type.getSimpleName() + "." + field.getName(), words(field.get(object)));
                    } catch (IllegalAccessException e) {
                        throw new IllegalStateException(e);
                    }
                }
            }
        }
        return state;
    }

    private static String words(@Nullable Object value) {
        if (value instanceof Link<?> link) {
            return link.isRead()
                    ? "-> " + link.find().map(ObjectState::identity).orElse("nothing")
                    : "-> not read";
        }
        if (value instanceof Links<?> links) {
            return links.isRead()
                    ? links.asList().stream()
                            .map(ObjectState::identity)
                            .toList()
                            .toString()
                    : "not read";
        }
        if (value instanceof Collection<?> several) {
            return several.stream().map(ObjectState::words).toList().toString();
        }
        if (value != null && value.getClass().isArray()) {
            List<String> elements = new ArrayList<>();
            for (int i = 0; i < Array.getLength(value); i++) {
                elements.add(words(Array.get(value, i)));
            }
            return elements.toString();
        }
        return String.valueOf(value);
    }

    private static String identity(Object object) {
        return object.getClass().getSimpleName() + "@" + Integer.toHexString(System.identityHashCode(object));
    }
}
