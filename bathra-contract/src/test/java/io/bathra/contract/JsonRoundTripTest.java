package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.contract.EveryTypeTest.Everything;
import io.bathra.contract.InlineTest.Yard;
import io.bathra.contract.PartsTest.Tug;
import io.bathra.error.Problem;
import io.bathra.form.EntityForm;
import io.bathra.form.FormField;
import io.bathra.jackson2.Jackson2;
import io.bathra.jackson3.Jackson3;
import io.bathra.json.EntityJson;
import io.bathra.json.JsonShape;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.TenSeconds;
import io.bathra.testing.TestDatabase;
import java.lang.reflect.Field;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.lifecycle.AddLifecycleHook;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Random entities of all kinds are read from a database, written as JSON by both libraries, taken out of it, and stored
 * again: they are the same.
 */
@AddLifecycleHook(TenSeconds.class)
class JsonRoundTripTest {
    private static final JsonMapper MAPPER = JsonMapper.builder()
            .enable(tools.jackson.databind.DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .build();

    /** Those whose rows refer to no others, so that they can be taken away and stored again. */
    private static final List<Class<?>> ALONE =
            List.of(Everything.class, ConverterTest.Ship.class, Yard.class, Tug.class);

    private static final Model MODEL = Model.of(
            "texts",
            Stream.of(
                            EveryTypeTest.ENTITIES,
                            CompositeKeyTest.ENTITIES,
                            ConverterTest.ENTITIES,
                            InlineTest.ENTITIES,
                            PartsTest.ENTITIES)
                    .flatMap(Arrays::stream)
                    .toArray(Entity<?>[]::new));

    private static final Map<TestDatabase, Store> STORES = new ConcurrentHashMap<>();
    private static final String LETTERS = "aZ09 \"\\/\n\t\u00e9\u0141\u4e2d,;'{}[]:<>&\u2028";

    @Property(tries = 500, seed = "33")
    void theSameOnEachDatabase(@ForAll long seed) {
        TestDatabase.chosen().forEach(database -> outAndIn(database, seed));
    }

    private static Store store(TestDatabase database) {
        return STORES.computeIfAbsent(database, d -> {
            Store store = Trips.open(MODEL, d.empty());
            store.schema().createMissing();
            return store;
        });
    }

    private static void outAndIn(TestDatabase database, long seed) {
        Store store = store(database);
        Model model = store.model();
        EntityJson two = Jackson2.json(model);
        EntityJson three = Jackson3.json(model);
        Random random = new Random(seed);
        List<ModelEntity<?>> entities = Mapping.of(model).entities();
        store.run(work ->
                entities.forEach(entity -> work.from(entity.type()).list().forEach(work::remove)));
        store.run(work -> {
            List<Object> some = EverythingTest.some(random.nextInt(1_000)).stream()
                    .filter(one -> entities.stream().anyMatch(entity -> entity.type() == one.getClass()))
                    .toList();
            some.stream().filter(Everything.class::isInstance).forEach(one -> fill(one, random));
            some.forEach(work::add);
        });

        Map<Class<?>, List<String>> before = new LinkedHashMap<>();
        for (ModelEntity<?> entity : entities) {
            before.put(entity.type(), texts(store, entity.type(), two, three));
        }
        List<Object> again = new ArrayList<>();
        before.forEach((type, texts) -> texts.forEach(text -> again.add(same(model, type, text, three))));
        store.run(work -> ALONE.forEach(type -> work.from(type).list().forEach(work::remove)));
        store.run(work ->
                again.stream().filter(one -> ALONE.contains(one.getClass())).forEach(work::add));
        for (Class<?> type : ALONE) {
            assertThat(texts(store, type, two, three)).containsExactlyInAnyOrderElementsOf(before.get(type));
        }
    }

    /** What programs set of all entities of a class, as JSON. */
    private static <E> List<String> texts(Store store, Class<E> type, EntityJson two, EntityJson three) {
        JsonShape<E> shape = JsonShape.of(type);
        List<E> entities = store.call(work -> work.from(type).list());
        List<String> texts = new ArrayList<>();
        for (E entity : entities) {
            String text = three.write(shape, entity);
            assertThat(two.write(shape, entity)).isEqualTo(text);
            texts.add(settable(store.model(), type, text));
        }
        return texts;
    }

    private static String settable(Model model, Class<?> type, String text) {
        ObjectNode node = (ObjectNode) MAPPER.readTree(text);
        for (FormField field : EntityForm.of(model, type).fields()) {
            if (!field.isSettable()) {
                node.remove(field.name());
            }
        }
        return MAPPER.writeValueAsString(sorted(node));
    }

    /** Maps and sets have no order that would last. */
    private static JsonNode sorted(JsonNode node) {
        if (node.isObject()) {
            ObjectNode sorted = MAPPER.createObjectNode();
            node.propertyNames().stream().sorted().forEach(name -> sorted.set(name, sorted(node.get(name))));
            return sorted;
        }
        return node;
    }

    private static <E> E same(Model model, Class<E> type, String text, EntityJson json) {
        E taken = json.read(JsonShape.of(type), text).orThrow();
        assertThat(settable(model, type, json.write(JsonShape.of(type), taken))).isEqualTo(text);
        E patched = EntityForm.of(model, type).make();
        List<Problem> problems = json.patch(JsonShape.of(type), patched, text);
        assertThat(problems)
                .allMatch(problem -> problem.words(java.util.Locale.ROOT).equals("cannot be set"));
        return taken;
    }

    // ---- random values

    private static void fill(Object entity, Random random) {
        for (Field field : entity.getClass().getDeclaredFields()) {
            boolean filled = !field.getName().equals("note") && random.nextInt(5) > 0;
            if (filled && !field.isSynthetic()) {
                field.setAccessible(true);
                try {
                    field.set(entity, value(field, random));
                } catch (IllegalAccessException e) {
                    throw new AssertionError(e);
                }
            }
        }
    }

    private static Object value(Field field, Random random) {
        Class<?> type = field.getType();
        if (type == boolean.class || type == Boolean.class) {
            return random.nextBoolean();
        } else if (type == byte.class || type == Byte.class) {
            return (byte) random.nextInt();
        } else if (type == short.class || type == Short.class) {
            return (short) random.nextInt();
        } else if (type == int.class || type == Integer.class) {
            return random.nextInt();
        } else if (type == long.class || type == Long.class) {
            return random.nextLong();
        } else if (type == float.class || type == Float.class) {
            return (random.nextFloat() - 0.5f) * (float) Math.pow(10, random.nextInt(60) - 30);
        } else if (type == double.class || type == Double.class) {
            return (random.nextDouble() - 0.5) * Math.pow(10, random.nextInt(400) - 200);
        } else if (type == char.class || type == Character.class) {
            return LETTERS.charAt(random.nextInt(LETTERS.length()));
        } else if (type == String.class) {
            return text(random);
        } else if (type == BigDecimal.class) {
            int scale = field.getName().equals("amount") ? 3 : 4;
            return new BigDecimal(new BigInteger(28, random), random.nextInt(scale + 1));
        } else if (type.isEnum()) {
            return type.getEnumConstants()[random.nextInt(type.getEnumConstants().length)];
        } else if (type == UUID.class) {
            return new UUID(random.nextLong(), random.nextLong());
        } else if (type == byte[].class) {
            byte[] bytes = new byte[random.nextInt(50)];
            random.nextBytes(bytes);
            return bytes;
        }
        LocalDate day = LocalDate.ofEpochDay(random.nextInt(2_000_000) - 500_000);
        LocalTime time = LocalTime.ofNanoOfDay(random.nextLong(LocalTime.MAX.toNanoOfDay()));
        if (type == LocalDate.class) {
            return day;
        } else if (type == LocalTime.class) {
            return time;
        }
        return type == Instant.class
                ? Instant.ofEpochSecond(random.nextInt(), random.nextInt(1_000_000_000))
                : LocalDateTime.of(day, time);
    }

    private static String text(Random random) {
        StringBuilder text = new StringBuilder();
        for (int i = random.nextInt(20); i > 0; i--) {
            if (random.nextInt(10) == 0) {
                text.append("\ud83d\udea2");
            } else {
                text.append(LETTERS.charAt(random.nextInt(LETTERS.length())));
            }
        }
        return text.toString();
    }
}
