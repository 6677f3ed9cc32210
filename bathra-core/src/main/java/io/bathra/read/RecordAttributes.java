package io.bathra.read;

import io.bathra.access.Accessor;
import io.bathra.error.BathraException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.question.Path;
import io.bathra.question.Term;
import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.List;

/** The attributes of an entity that the components of a record name. */
final class RecordAttributes {
    private RecordAttributes() {}

    /**
     * One for each component.
     *
     * @throws BathraException when a component names none
     */
    static List<Term> of(ModelEntity<?> entity, Class<?> record) {
        List<Term> terms = new ArrayList<>();
        for (RecordComponent component : record.getRecordComponents()) {
            terms.add(new Term.Attribute(new Path(way(entity, component.getName(), record))));
        }
        return terms;
    }

    private static List<Accessor> way(ModelEntity<?> entity, String name, Class<?> record) {
        Attribute named = entity.attributeIfAny(name).orElse(null);
        if (named instanceof ColumnAttribute column && !column.isInline()) {
            return List.of(new Accessor(entity.type(), name));
        }
        if (name.endsWith("Id")
                && entity.attributeIfAny(name.substring(0, name.length() - 2)).orElse(null)
                        instanceof LinkAttribute link
                && link.columns().size() == 1) {
            String key = link.target().keyAttributes().get(0).name();
            return List.of(
                    new Accessor(entity.type(), link.name()),
                    new Accessor(link.target().type(), key));
        }
        throw new BathraException(record.getSimpleName() + "." + name + " names no single column of " + entity.name()
                + "; name its components like the columns, or say as(" + record.getSimpleName()
                + "::new, ...) with an expression for each");
    }
}
