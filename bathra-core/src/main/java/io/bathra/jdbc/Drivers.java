package io.bathra.jdbc;

import java.util.LinkedHashMap;
import java.util.Map;

/** Which URLs there are, and whose driver takes them. */
final class Drivers {
    private static final Map<String, String> ARTIFACTS = new LinkedHashMap<>();

    static {
        ARTIFACTS.put("jdbc:h2:", "com.h2database:h2");
        ARTIFACTS.put("jdbc:sqlite:", "org.xerial:sqlite-jdbc");
        ARTIFACTS.put("jdbc:postgresql:", "org.postgresql:postgresql");
        ARTIFACTS.put("jdbc:mariadb:", "org.mariadb.jdbc:mariadb-java-client");
    }

    private Drivers() {}

    /** What to do where no driver takes a URL. */
    static String advice(String url) {
        return ARTIFACTS.entrySet().stream()
                .filter(one -> url.startsWith(one.getKey()))
                .findFirst()
                .map(one -> "the driver is not on the class path; add " + one.getValue())
                .orElse("Bathra knows URLs that begin with " + String.join(", ", ARTIFACTS.keySet()));
    }
}
