package io.bathra.cli.image;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import io.bathra.error.BathraException;
import io.bathra.model.Model;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * What the builder of a native image has to be told, in the form that it reads: the classes that are reached by
 * reflection, and those whose references to attributes are resolved by serialization.
 *
 * @param reached classes and records, by name
 * @param referring the names of classes with references to attributes
 */
public record Hints(List<Reached> reached, List<String> referring) {
    /** The names of the files, which the builder looks for in a folder below {@code META-INF/native-image}. */
    private static final String REFLECTION = "reflect-config.json";

    private static final String SERIALIZATION = "serialization-config.json";
    private static final ObjectMapper JSON = new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

    /** A class, and what is reached in it. */
    @JsonInclude(JsonInclude.Include.NON_DEFAULT)
    record Reached(
            String name,
            boolean allDeclaredFields,
            boolean allDeclaredConstructors,
            boolean queryAllDeclaredMethods,
            boolean allDeclaredMethods,
            boolean allRecordComponents) {
        /** Of a class fields are read and written; its methods are looked at for what to call them. */
        static Reached plain(String name) {
            return new Reached(name, true, true, true, false, false);
        }

        /** Of a record components are read, and it is made by its constructor. */
        static Reached record(String name) {
            return new Reached(name, true, true, false, true, true);
        }
    }

    /** Checks what it is made of. */
    public Hints {
        reached = List.copyOf(reached);
        referring = List.copyOf(referring);
    }

    /**
     * Finds them.
     *
     * @param places the jars and folders with the classes of those who use the model
     * @throws BathraException when one of them cannot be read
     */
    public static Hints of(Model model, List<Path> places) {
        Callers callers = Callers.in(places);
        Map<String, Reached> reached = new TreeMap<>();
        callers.records().forEach(name -> reached.put(name, Reached.record(name)));
        for (Class<?> type : Held.by(model)) {
            String name = type.getName();
            reached.put(name, type.isRecord() ? Reached.record(name) : Reached.plain(name));
        }
        return new Hints(List.copyOf(reached.values()), List.copyOf(callers.referring()));
    }

    /**
     * Writes the files.
     *
     * @return those that were written
     * @throws BathraException when that fails
     */
    public List<Path> write(Path folder) {
        Path reflection = folder.resolve(REFLECTION);
        Path serialization = folder.resolve(SERIALIZATION);
        try {
            Files.createDirectories(folder);
            write(reflection, reached);
            write(
                    serialization,
                    new Serialization(
                            List.of(), referring.stream().map(Named::new).toList(), List.of()));
        } catch (IOException e) {
            throw new BathraException("hints cannot be written to " + folder + ": " + e, e);
        }
        return List.of(reflection, serialization);
    }

    private static void write(Path file, Object value) throws IOException {
        Files.writeString(file, JSON.writeValueAsString(value) + "\n", StandardCharsets.UTF_8);
    }

    private record Named(String name) {}

    private record Serialization(List<Named> types, List<Named> lambdaCapturingTypes, List<Named> proxies) {}
}
