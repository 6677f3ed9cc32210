package io.bathra.jackson2;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.core.StreamWriteFeature;
import com.fasterxml.jackson.databind.Module;
import io.bathra.json.EntityJson;
import io.bathra.json.format.JsonFormat;
import io.bathra.json.format.JsonSink;
import io.bathra.json.format.JsonSource;
import io.bathra.model.Model;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.util.Objects;

/** JSON by Jackson 2. */
public final class Jackson2 {
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
            .build()
            .configure(JsonGenerator.Feature.COMBINE_UNICODE_SURROGATES_IN_UTF8, true);

    private Jackson2() {}

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
    public static Module module(EntityJson json) {
        return new EntityModule(Objects.requireNonNull(json, "json"));
    }

    private record Format(JsonFactory factory) implements JsonFormat {
        @Override
        public JsonSink sink(OutputStream out) {
            try {
                return new GeneratorSink(factory.createGenerator(out));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }

        @Override
        public JsonSource source(InputStream in) {
            try {
                return ParserSource.ofAll(factory.createParser(in));
            } catch (IOException e) {
                throw ParserSource.malformed(e, null);
            }
        }

        @Override
        public JsonSource source(byte[] text) {
            try {
                return ParserSource.ofAll(factory.createParser(text));
            } catch (IOException e) {
                throw ParserSource.malformed(e, null);
            }
        }
    }
}
