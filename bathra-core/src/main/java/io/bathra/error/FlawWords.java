package io.bathra.error;

import java.text.MessageFormat;
import java.util.Locale;
import java.util.ResourceBundle;

/** The words for flaws in the languages that come along; English for all others. */
final class FlawWords {
    private static final String BUNDLE = "io.bathra.error.flaws";

    private FlawWords() {}

    static String of(Flaw flaw, Locale locale) {
        return new MessageFormat(bundle(locale).getString(flaw.key()), locale)
                .format(flaw.arguments().toArray());
    }

    /** Where a language is not there, Java would take the one of the machine. */
    private static ResourceBundle bundle(Locale locale) {
        ResourceBundle found = ResourceBundle.getBundle(BUNDLE, locale, FlawWords.class.getModule());
        return found.getLocale().getLanguage().equals(locale.getLanguage())
                ? found
                : ResourceBundle.getBundle(BUNDLE, Locale.ROOT, FlawWords.class.getModule());
    }
}
