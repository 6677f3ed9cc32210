package io.bathra.jackson2;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.Version;
import com.fasterxml.jackson.databind.BeanDescription;
import com.fasterxml.jackson.databind.DeserializationConfig;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.JavaType;
import com.fasterxml.jackson.databind.JsonDeserializer;
import com.fasterxml.jackson.databind.JsonSerializer;
import com.fasterxml.jackson.databind.Module;
import com.fasterxml.jackson.databind.SerializationConfig;
import com.fasterxml.jackson.databind.SerializerProvider;
import com.fasterxml.jackson.databind.deser.Deserializers;
import com.fasterxml.jackson.databind.ser.Serializers;
import io.bathra.json.EntityJson;
import io.bathra.json.JsonShape;
import io.bathra.json.Shaped;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Makes a mapper write and read entities. */
final class EntityModule extends Module {
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
            public @Nullable JsonSerializer<?> findSerializer(
                    SerializationConfig config, JavaType type, BeanDescription description) {
                Class<?> raw = type.getRawClass();
                return raw == Shaped.class
                        ? new OfShaped()
                        : entities.contains(raw) ? new OfEntity<>(json.shape(raw)) : null;
            }
        });
        context.addDeserializers(new Deserializers.Base() {
            @Override
            public @Nullable JsonDeserializer<?> findBeanDeserializer(
                    JavaType type, DeserializationConfig config, BeanDescription description) {
                Class<?> raw = type.getRawClass();
                return entities.contains(raw) ? new Reading<>(json.shape(raw)) : null;
            }
        });
    }

    private final class OfShaped extends JsonSerializer<Shaped> {
        @Override
        public void serialize(Shaped shaped, JsonGenerator generator, SerializerProvider provider) {
            json.write(shaped, new GeneratorSink(generator));
        }
    }

    private final class OfEntity<E> extends JsonSerializer<E> {
        private final JsonShape<E> shape;

        OfEntity(JsonShape<E> shape) {
            this.shape = shape;
        }

        @Override
        public void serialize(E entity, JsonGenerator generator, SerializerProvider provider) {
            json.write(shape.show(entity), new GeneratorSink(generator));
        }
    }

    private final class Reading<E> extends JsonDeserializer<E> {
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
