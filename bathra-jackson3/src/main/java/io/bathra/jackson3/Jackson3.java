package io.bathra.jackson3;

import io.bathra.json.EntityJson;
import io.bathra.json.format.JsonFormat;
import io.bathra.json.format.JsonSink;
import io.bathra.json.format.JsonSource;
import io.bathra.model.Model;
import java.io.InputStream;
import java.io.OutputStream;
import java.util.Objects;
import tools.jackson.core.JacksonException;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.ObjectWriteContext;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.core.StreamWriteFeature;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.core.json.JsonWriteFeature;
import tools.jackson.databind.JacksonModule;

/** JSON by Jackson 3. */
public final class Jackson3 {
    private static final int DEEPEST = 100;
    private static final int LONGEST_TEXT = 1_000_000;
    private static final int LONGEST_NUMBER = 1_000;
    private static final int LONGEST_NAME = 1_000;
    private static final long LONGEST_DOCUMENT = 20_000_000;

    private static final JsonFactory FACTORY = JsonFactory.builder()
            .streamReadConstraints(StreamReadConstraints.builder()
                    .maxNestingDepth(DEEPEST)
                    .maxStringLength(LONGEST_TEXT)
                    .maxNumberLength(LONGEST_NUMBER)
                    .maxNameLength(LONGEST_NAME)
                    .maxDocumentLength(LONGEST_DOCUMENT)
                    .build())
            .disable(StreamReadFeature.AUTO_CLOSE_SOURCE)
            .disable(StreamWriteFeature.AUTO_CLOSE_TARGET)
            .disable(StreamWriteFeature.AUTO_CLOSE_CONTENT)
            .enable(JsonWriteFeature.COMBINE_UNICODE_SURROGATES_IN_UTF8)
            .disable(JsonWriteFeature.ESCAPE_FORWARD_SLASHES)
            .build();

    private Jackson3() {}

    /**
     * {@return what writes and reads the entities of a model} What is read may be 20 million bytes long, nest 100
     * deep, and have texts of a million characters and numbers of a thousand digits; longer ones are refused.
     *
     * @param model the model
     */
    public static EntityJson json(Model model) {
        return EntityJson.of(model, new Format(FACTORY));
    }

    /**
     * {@return the same by a factory of one's own, with its bounds; one that leaves streams open is wanted}
     *
     * @param model the model
     * @param factory makes parsers and generators
     */
    public static EntityJson json(Model model, JsonFactory factory) {
        return EntityJson.of(model, new Format(Objects.requireNonNull(factory, "factory")));
    }

    /**
     * {@return what makes an {@code ObjectMapper} write entities and {@link io.bathra.json.Shaped}, wherever they
     * stand, and read new entities; those that cannot be read are an {@link io.bathra.error.InvalidChangesException}}
     *
     * @param json what reads and writes JSON
     */
    public static JacksonModule module(EntityJson json) {
        return new EntityModule(Objects.requireNonNull(json, "json"));
    }

    private record Format(JsonFactory factory) implements JsonFormat {
        @Override
        public JsonSink sink(OutputStream out) {
            return new GeneratorSink(factory.createGenerator(ObjectWriteContext.empty(), out));
        }

        @Override
        public JsonSource source(InputStream in) {
            try {
                return ParserSource.ofAll(factory.createParser(ObjectReadContext.empty(), in));
            } catch (JacksonException e) {
                throw ParserSource.malformed(e, null);
            }
        }

        @Override
        public JsonSource source(byte[] text) {
            try {
                return ParserSource.ofAll(factory.createParser(ObjectReadContext.empty(), text));
            } catch (JacksonException e) {
                throw ParserSource.malformed(e, null);
            }
        }
    }
}
