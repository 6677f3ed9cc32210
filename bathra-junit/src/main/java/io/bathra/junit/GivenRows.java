package io.bathra.junit;

import io.bathra.error.BathraException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.schema.FailsafeSchema;

/** Rows in texts, as maps of texts. */
final class GivenRows {
    private GivenRows() {}

    /** Lines with commas; the first has the names. Values with commas, quotes or line ends stand in double quotes. */
    static List<Map<String, @Nullable String>> csv(String text) {
        List<List<String>> lines = lines(text.strip());
        List<String> names = lines.get(0);
        List<Map<String, @Nullable String>> rows = new ArrayList<>();
        for (List<String> line : lines.subList(1, lines.size())) {
            if (line.size() != names.size()) {
                throw new BathraException("the line " + line + " has " + line.size()
                        + " values, but the first line has " + names.size() + " names: " + names);
            }
            Map<String, @Nullable String> row = new LinkedHashMap<>();
            for (int i = 0; i < names.size(); i++) {
                row.put(names.get(i), line.get(i));
            }
            rows.add(row);
        }
        return rows;
    }

    private static List<List<String>> lines(String text) {
        List<List<String>> lines = new ArrayList<>();
        List<String> line = new ArrayList<>();
        StringBuilder value = new StringBuilder();
        boolean quoted = false;
        boolean wasQuoted = false;
        for (int i = 0; i <= text.length(); i++) {
            char c = i < text.length() ? text.charAt(i) : '\n';
            if (quoted && i == text.length()) {
                throw new BathraException("a quotation mark is not closed: \"" + value);
            }
            if (quoted && c == '"' && i + 1 < text.length() && text.charAt(i + 1) == '"') {
                value.append(c);
                i++;
            } else if (c == '"' && (quoted || value.toString().isBlank())) {
                if (!quoted) {
                    value.setLength(0); // blanks in front of it
                }
                quoted = !quoted;
                wasQuoted = true;
            } else if (!quoted && (c == ',' || c == '\n')) {
                line.add(wasQuoted ? value.toString() : value.toString().strip());
                value.setLength(0);
                wasQuoted = false;
                if (c == '\n') {
                    lines.add(line);
                    line = new ArrayList<>();
                }
            } else if (quoted || c != '\r') {
                value.append(c);
            }
        }
        return lines;
    }

    /** A list of maps; a name that a row leaves out has no value there. */
    static List<Map<String, @Nullable String>> yaml(String text) {
        Object loaded;
        try {
            loaded = Yaml.load(text);
        } catch (NoClassDefFoundError e) {
            throw new BathraException(
                    "rows in YAML need the artifact org.snakeyaml:snakeyaml-engine with test scope; add it, or give them"
                            + " as CSV",
                    e);
        }
        if (!(loaded instanceof List<?> list) || !list.stream().allMatch(Map.class::isInstance)) {
            throw new BathraException("rows in YAML are a list of maps, '- name: value'; this is none:\n" + text);
        }
        List<String> names = list.stream()
                .flatMap(row -> ((Map<?, ?>) row).keySet().stream())
                .map(String::valueOf)
                .distinct()
                .toList();
        List<Map<String, @Nullable String>> rows = new ArrayList<>();
        for (Object row : list) {
            Map<String, @Nullable String> texts = new LinkedHashMap<>();
            for (String name : names) {
                Object value = ((Map<?, ?>) row).get(name);
                texts.put(name, value == null ? "" : String.valueOf(value));
            }
            rows.add(texts);
        }
        return rows;
    }

    /** Apart, since the library may not be there. Nothing but texts comes out: 0042 stays what it is. */
    private static final class Yaml {
        static @Nullable Object load(String text) {
            LoadSettings settings =
                    LoadSettings.builder().setSchema(new FailsafeSchema()).build();
            return new Load(settings).loadFromString(text);
        }
    }
}
