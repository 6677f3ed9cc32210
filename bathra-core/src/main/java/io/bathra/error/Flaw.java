package io.bathra.error;

import java.util.List;
import java.util.Locale;

/**
 * What is wrong with a value: a code with arguments, for people's words in any language, and words for developers.
 *
 * @param code what kind of thing is wrong
 * @param arguments what the words of the code have places for, as {@link Code} says
 * @param reason what is wrong and what to do, in plain English, for whoever writes the program
 */
public record Flaw(Code code, List<Object> arguments, String reason) {
    /** Kinds of flaws. Their names are the keys of message bundles, as {@link #key} gives them. */
    public enum Code {
        /** There has to be a value. */
        REQUIRED,
        /** A text is too long; {0} characters are allowed. */
        TOO_LONG,
        /** A decimal has too many digits; {0} are allowed before its point and {1} behind it. */
        TOO_MANY_DIGITS,
        /** A number is infinite, or none. */
        NOT_FINITE,
        /** A text holds a character that cannot be kept. */
        UNSUITABLE_CHARACTER,
        /** A date lies outside of what the database keeps; the first and the last year are {0} and {1}. */
        YEAR_OUT_OF_RANGE,
        /** A text is none of the values that it might stand for: {0} says what it should be. */
        UNREADABLE,
        /** A text is none of a few words, which are {0}. */
        NOT_AMONG,
        /** The value has to be unique, and is taken. */
        TAKEN,
        /** A check that was declared does not hold; its name is {0}. */
        CHECK,
        /** There is no such attribute. */
        UNKNOWN,
        /** The attribute may not be set. */
        NOT_TO_BE_SET,
        /** Something else, which only the developers' words tell. */
        OTHER
    }

    public Flaw {
        arguments = List.copyOf(arguments);
    }

    /** A flaw of a kind. */
    public static Flaw of(Code code, String reason, Object... arguments) {
        return new Flaw(code, List.of(arguments), reason);
    }

    /** One that has no code of its own. */
    public static Flaw other(String reason) {
        return new Flaw(Code.OTHER, List.of(), reason);
    }

    /** The key of its words in a message bundle: {@code too-long}. */
    public String key() {
        return code.name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /**
     * Words for whoever has typed the value: "may have at most 7 characters". There are English and German ones; other
     * languages are a bundle of the program's own, by {@link #key} and {@link #arguments}.
     */
    public String words(Locale locale) {
        return FlawWords.of(this, locale);
    }
}
