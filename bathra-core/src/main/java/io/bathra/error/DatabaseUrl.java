package io.bathra.error;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * A JDBC URL as it may stand in a message: without user and password. What a driver says of it is shown where no password
 * stands in it.
 */
public final class DatabaseUrl {
    /** A setting that names a user or opens something, in the forms of all drivers. */
    private static final Pattern SETTING = Pattern.compile(
            "([?&;])((?:[\\w.]*(?:user|passw|pwd|passphrase|secret|token)[\\w.]*|key|hexkey|init)=)([^&;]*)",
            Pattern.CASE_INSENSITIVE);

    /** The drivers by how their URLs begin. */
    private static final Map<String, String> ARTIFACTS = new LinkedHashMap<>();

    static {
        ARTIFACTS.put("jdbc:h2:", "com.h2database:h2");
        ARTIFACTS.put("jdbc:sqlite:", "org.xerial:sqlite-jdbc");
        ARTIFACTS.put("jdbc:postgresql:", "org.postgresql:postgresql");
        ARTIFACTS.put("jdbc:mariadb:", "org.mariadb.jdbc:mariadb-java-client");
    }

    private static final String WITHHELD = "the driver's text is withheld, since a password stands in it";

    private final String url;
    private final String shown;
    private final List<Pattern> hidden = new ArrayList<>();

    private DatabaseUrl(String url, @Nullable String password) {
        this.url = url;
        this.shown = withoutAccount(withoutSettings(url));
        hide(password == null ? "" : password);
    }

    private void hide(String word) {
        if (!word.isEmpty()) {
            hidden.add(Pattern.compile("(?<!\\p{Alnum})" + Pattern.quote(word) + "(?!\\p{Alnum})"));
        }
    }

    /**
     * {@return the URL with whatever stands in it}
     *
     * @param url the JDBC URL
     */
    public static DatabaseUrl of(String url) {
        return new DatabaseUrl(url, null);
    }

    /**
     * {@return the URL with whatever stands in it, and a password beside it}
     *
     * @param password null for none
     * @param url the JDBC URL
     */
    public static DatabaseUrl of(String url, @Nullable String password) {
        return new DatabaseUrl(url, password);
    }

    /**
     * {@return the refusal of a URL that no driver takes, with what to do}
     *
     * @param cause what was behind it; null for nothing
     */
    public DatabaseUnreachableException withoutDriver(Exception cause) {
        String advice = ARTIFACTS.entrySet().stream()
                .filter(one -> url.startsWith(one.getKey()))
                .findFirst()
                .map(one -> "the driver is not on the class path; add " + one.getValue())
                .orElse("Bathra knows URLs that begin with " + String.join(", ", ARTIFACTS.keySet()));
        return new DatabaseUnreachableException("no driver takes " + shown + ": " + advice, cause);
    }

    private String withoutSettings(String text) {
        Matcher setting = SETTING.matcher(text);
        StringBuilder rest = new StringBuilder();
        while (setting.find()) {
            if (!setting.group(2).toLowerCase(Locale.ROOT).contains("user")) {
                hide(setting.group(3));
            }
            setting.appendReplacement(rest, "");
            if (setting.group(1).equals("?")) {
                rest.append('?');
            }
        }
        setting.appendTail(rest);
        return rest.toString().replace("?&", "?").replaceAll("\\?$", "");
    }

    /** What stands between the slashes and the last {@code @} is an account, even where it should not stand. */
    private String withoutAccount(String text) {
        int from = text.indexOf("//") + 2;
        int to = text.lastIndexOf('@');
        if (from < 2 || to < from) {
            return text;
        }
        String account = text.substring(from, to);
        int colon = account.indexOf(':');
        hide(colon < 0 ? "" : account.substring(colon + 1));
        return text.substring(0, from) + text.substring(to + 1);
    }

    /**
     * {@return a text with the URL as it may be shown; withheld where user or password stand in it nevertheless}
     *
     * @param text the text
     */
    public String withheld(String text) {
        String clean = text.replace(url, shown);
        return hidden.stream().anyMatch(word -> word.matcher(clean).find()) ? WITHHELD : clean;
    }

    /** The URL without user and password. */
    @Override
    public String toString() {
        return shown;
    }
}
