package io.bathra.jackson3;

import com.fasterxml.jackson.annotation.JsonFormat;
import io.bathra.json.EntityJson;
import io.bathra.json.JsonShape;
import io.bathra.json.Shaped;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.JsonParser;
import tools.jackson.core.Version;
import tools.jackson.databind.BeanDescription;
import tools.jackson.databind.DeserializationConfig;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.JacksonModule;
import tools.jackson.databind.JavaType;
import tools.jackson.databind.SerializationConfig;
import tools.jackson.databind.SerializationContext;
import tools.jackson.databind.ValueDeserializer;
import tools.jackson.databind.ValueSerializer;
import tools.jackson.databind.deser.Deserializers;
import tools.jackson.databind.ser.Serializers;

/** Makes a mapper write and read entities. */
final class EntityModule extends JacksonModule {
    private final EntityJson json;
    private final Set<Class<?>> entities;

    EntityModule(EntityJson json) {
        this.json = json;
        this.entities = json.model().entities().stream()
                .map(entity -> (Class<?>) entity.type())
                .collect(Collectors.toUnmodifiableSet());
    }

    @Override
    public String getModuleName() {
        return "bathra " + json.model().name();
    }

    @Override
    public Version version() {
        return Version.unknownVersion();
    }

    @Override
    public void setupModule(SetupContext context) {
        context.addSerializers(new Serializers.Base() {
            @Override
            public @Nullable ValueSerializer<?> findSerializer(
                    SerializationConfig config,
                    JavaType type,
                    BeanDescription.Supplier description,
                    JsonFormat.@Nullable Value format) {
                Class<?> raw = type.getRawClass();
                return raw == Shaped.class
                        ? new OfShaped()
                        : entities.contains(raw) ? new OfEntity<>(json.shape(raw)) : null;
            }
        });
        context.addDeserializers(new Deserializers.Base() {
            @Override
            public @Nullable ValueDeserializer<?> findBeanDeserializer(
                    JavaType type, DeserializationConfig config, BeanDescription.Supplier description) {
                Class<?> raw = type.getRawClass();
                return entities.contains(raw) ? new Reading<>(json.shape(raw)) : null;
            }

            @Override
            public boolean hasDeserializerFor(DeserializationConfig config, Class<?> type) {
                return entities.contains(type);
            }
        });
    }

    private final class OfShaped extends ValueSerializer<Shaped> {
        @Override
        public void serialize(Shaped shaped, JsonGenerator generator, SerializationContext provider) {
            json.write(shaped, new GeneratorSink(generator));
        }
    }

    private final class OfEntity<E> extends ValueSerializer<E> {
        private final JsonShape<E> shape;

        OfEntity(JsonShape<E> shape) {
            this.shape = shape;
        }

        @Override
        public void serialize(E entity, JsonGenerator generator, SerializationContext provider) {
            json.write(shape.show(entity), new GeneratorSink(generator));
        }
    }

    private final class Reading<E> extends ValueDeserializer<E> {
        private final JsonShape<E> shape;

        Reading(JsonShape<E> shape) {
            this.shape = shape;
        }

        @Override
        public E deserialize(JsonParser parser, DeserializationContext context) {
            return json.read(shape, ParserSource.ofValueAt(parser)).orThrow();
        }
    }
}
