package io.bathra.bulk;

import io.bathra.access.Accessor;
import io.bathra.attr.Attr;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;

/** Some attributes, by their accessors or by their names, of an entity that is known later. */
final class Names {
    private final List<Function<ModelEntity<?>, Attribute>> names;

    private Names(List<Function<ModelEntity<?>, Attribute>> names) {
        this.names = List.copyOf(names);
    }

    static <E> Names of(Attr<? super E, ?> first, List<? extends Attr<? super E, ?>> more) {
        List<Accessor> accessors = new ArrayList<>(List.of(Accessor.of(first)));
        more.forEach(attr -> accessors.add(Accessor.of(attr)));
        List<Function<ModelEntity<?>, Attribute>> names = new ArrayList<>();
        accessors.forEach(accessor -> names.add(entity -> entity.attribute(accessor)));
        return new Names(names);
    }

    static Names of(List<String> attributes) {
        List<Function<ModelEntity<?>, Attribute>> names = new ArrayList<>();
        attributes.forEach(name -> names.add(entity -> entity.attribute(name)));
        return new Names(names);
    }

    /**
     * The attributes of an entity.
     *
     * @throws io.bathra.error.BathraException when it has none of such a name
     */
    List<Attribute> in(ModelEntity<?> entity) {
        return names.stream().map(name -> name.apply(entity)).toList();
    }
}
