package io.bathra.json;

import io.bathra.error.Problem;
import io.bathra.json.format.JsonFormat;
import io.bathra.json.format.JsonSink;
import io.bathra.json.format.JsonSource;
import io.bathra.model.Model;
import java.io.ByteArrayOutputStream;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Writes the entities of a model as JSON, and takes them out of it. Immutable and safe to share between threads.
 *
 * <pre>{@code
 * String text = json.write(SHAPE, call);
 * Received<PortCall> received = json.read(SHAPE, text);
 * List<Problem> problems = json.patch(SHAPE, call, "{\"remark\": null}");
 * }</pre>
 *
 * <p>Values are written as their columns keep them: numbers and truth values as such, what is declared {@code json()}
 * as it is, everything else as text: dates and times by ISO 8601, enums by name, bytes in hexadecimal digits. An inlined
 * value is an object, parts are a list, or an object for a map; a link is the key that it leads to, a key of several
 * attributes an object. Writing reads nothing from the database and needs no open unit of work.
 *
 * <p>What is taken passes the same gates as everything that is stored. Names that the shape does not let be set, names
 * of nothing and names that are there twice are problems, as are all values that do not fit; all of them are told at
 * once. A link's key is set without a look whether its row is there; unique values are told by {@code
 * UnitOfWork.problems()}.
 */
public final class EntityJson {
    private final Model model;
    private final JsonFormat format;
    private final Map<Class<?>, JsonShape<?>> shapes;

    private EntityJson(Model model, JsonFormat format, Map<Class<?>, JsonShape<?>> shapes) {
        this.model = model;
        this.format = format;
        this.shapes = new ConcurrentHashMap<>(shapes);
    }

    /**
     * {@return what writes and reads the entities of a model in this format}
     *
     * @param model the model
     * @param format the format
     */
    public static EntityJson of(Model model, JsonFormat format) {
        return new EntityJson(
                Objects.requireNonNull(model, "model"), Objects.requireNonNull(format, "format"), Map.of());
    }

    /**
     * {@return the same with shapes for entities that come without one; without this, they have that of {@link
     * JsonShape#of}}
     *
     * @param ofEntities the shape of the entities
     */
    public EntityJson shaped(JsonShape<?>... ofEntities) {
        Map<Class<?>, JsonShape<?>> all = new HashMap<>(shapes);
        for (JsonShape<?> shape : ofEntities) {
            shape.in(model);
            all.put(shape.type(), shape);
        }
        return new EntityJson(model, format, all);
    }

    /** {@return the model} */
    public Model model() {
        return model;
    }

    /**
     * {@return the shape of entities that come without one}
     *
     * @param <E> the entity
     * @param type the class
     */
    @SuppressWarnings("unchecked") // each class has a shape of its own
    public <E> JsonShape<E> shape(Class<E> type) {
        return (JsonShape<E>) shapes.computeIfAbsent(type, JsonShape::of);
    }

    // ---- out

    /**
     * {@return an entity as JSON}
     *
     * @param <E> the entity
     * @param shape the shape
     * @param entity the entity
     * @throws io.bathra.error.BathraException when the shape asks for what was not read, or a link leads to an entity
     *     that has no key yet
     */
    public <E> String write(JsonShape<E> shape, E entity) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (JsonSink sink = format.sink(bytes)) {
            write(shape.show(entity), sink);
        }
        return bytes.toString(StandardCharsets.UTF_8);
    }

    /**
     * Writes the entities of a stream, which is closed, as a list in UTF-8, each as it comes. The output is left open.
     *
     * @param <E> the entity
     * @param shape the shape
     * @param entities the entities
     * @param out where it is written; it stays open
     * @throws io.bathra.error.BathraException as {@link #write(JsonShape, Object)}; part of the list may be written
     *     then
     */
    public <E> void write(JsonShape<E> shape, Stream<? extends E> entities, OutputStream out) {
        try (entities;
                JsonSink sink = format.sink(out)) {
            list(shape.in(model), entities.iterator(), sink);
        }
    }

    /**
     * Writes entities in their shape.
     *
     * @param shaped what is written, with its shape
     * @param sink takes what is written
     */
    public void write(Shaped shaped, JsonSink sink) {
        ShapePlan<?> plan = shaped.shape().in(model);
        Object one = shaped.one();
        if (one == null) {
            list(plan, shaped.all().iterator(), sink);
        } else {
            new EntityWriter(sink).entity(plan, one);
        }
    }

    /**
     * Problems as JSON, for whoever has sent a text: a list of objects with the path, the value as it may be shown, the
     * code, and words in a language that is there.
     *
     * @param problems all that is wrong
     * @param language whose words
     * @return the words
     */
    public String told(List<Problem> problems, Locale language) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (JsonSink sink = format.sink(bytes)) {
            sink.beginList();
            for (Problem problem : problems) {
                sink.beginObject();
                member(sink, "path", problem.attribute());
                member(sink, "value", problem.value());
                member(sink, "code", problem.flaw().key());
                member(sink, "words", problem.words(language));
                sink.endObject();
            }
            sink.endList();
        }
        return bytes.toString(StandardCharsets.UTF_8);
    }

    private static void member(JsonSink sink, String name, @Nullable Object value) {
        sink.name(name);
        if (value == null) {
            sink.nothing();
        } else {
            sink.text(value.toString());
        }
    }

    private static void list(ShapePlan<?> plan, Iterator<?> entities, JsonSink sink) {
        EntityWriter writer = new EntityWriter(sink);
        sink.beginList();
        while (entities.hasNext()) {
            writer.entity(plan, Objects.requireNonNull(entities.next(), "an entity of the list"));
        }
        sink.endList();
    }

    // ---- in

    /**
     * {@return a new entity out of a text}
     *
     * @param <E> the entity
     * @param shape the shape
     * @param json the text
     */
    public <E> Received<E> read(JsonShape<E> shape, String json) {
        try (JsonSource source = format.source(bytes(json))) {
            return read(shape, source);
        }
    }

    /**
     * {@return a new entity out of a stream, which is left open}
     *
     * @param <E> the entity
     * @param shape the shape
     * @param json the text, in UTF-8
     */
    public <E> Received<E> read(JsonShape<E> shape, InputStream json) {
        try (JsonSource source = format.source(json)) {
            return read(shape, source);
        }
    }

    /**
     * {@return a new entity out of tokens}
     *
     * @param <E> the entity
     * @param shape the shape
     * @param source where the tokens come from
     */
    public <E> Received<E> read(JsonShape<E> shape, JsonSource source) {
        ShapePlan<E> plan = shape.in(model);
        E entity = plan.form().make();
        List<Problem> problems = new EntityReader(source, false).into(plan, entity);
        return new Received<>(problems.isEmpty() ? entity : null, problems);
    }

    /**
     * Changes an entity as a merge patch says (RFC 7396): what is absent stays, what is null is cleared, objects are
     * merged, lists are replaced. All of it is set, or nothing. Associations to many are no part of a patch.
     *
     * @param <E> the entity
     * @param shape the shape
     * @param entity the entity
     * @param json the text
     * @return what is wrong; empty when everything is set
     * @throws io.bathra.error.BathraException when the patch goes into a link that was not read
     * @see <a href="https://www.rfc-editor.org/rfc/rfc7396">RFC 7396, JSON Merge Patch</a>
     */
    public <E> List<Problem> patch(JsonShape<E> shape, E entity, String json) {
        try (JsonSource source = format.source(bytes(json))) {
            return patch(shape, entity, source);
        }
    }

    /**
     * {@return the same with a stream, which is left open}
     *
     * @param <E> the entity
     * @param shape the shape
     * @param entity the entity
     * @param json the text, in UTF-8
     */
    public <E> List<Problem> patch(JsonShape<E> shape, E entity, InputStream json) {
        try (JsonSource source = format.source(json)) {
            return patch(shape, entity, source);
        }
    }

    private <E> List<Problem> patch(JsonShape<E> shape, E entity, JsonSource source) {
        return List.copyOf(new EntityReader(source, true).into(shape.in(model), entity));
    }

    private static byte[] bytes(String json) {
        return json.getBytes(StandardCharsets.UTF_8);
    }
}
