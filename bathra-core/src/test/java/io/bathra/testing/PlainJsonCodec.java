package io.bathra.testing;

import io.bathra.model.JsonCodec;
import java.lang.reflect.Type;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** Enough JSON for maps from plain words to whole numbers. */
public final class PlainJsonCodec implements JsonCodec {
    private static final Pattern MEMBER = Pattern.compile("\"(\\w+)\":(-?\\d+)");

    @Override
    public String write(Object value, Type type) {
        return new TreeMap<>((Map<?, ?>) value)
                .entrySet().stream()
                        .map(member -> "\"" + member.getKey() + "\":" + member.getValue())
                        .collect(Collectors.joining(",", "{", "}"));
    }

    @Override
    public Object read(String json, Type type) {
        Map<String, Integer> map = new TreeMap<>();
        Matcher member = MEMBER.matcher(json);
        while (member.find()) {
            map.put(member.group(1), Integer.valueOf(member.group(2)));
        }
        return map;
    }
}
