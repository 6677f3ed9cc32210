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
        /**
         * A text is none of the values that it might stand for; {0} is the kind of value that it should be: {@code
         * whole}, {@code number}, {@code decimal}, {@code date}, {@code time}, {@code date-time}, {@code instant},
         * {@code uuid}, {@code bytes}, {@code character}, {@code json}, or in JSON {@code object}, {@code list},
         * {@code text} and {@code value}.
         */
        UNREADABLE,
        /** A whole number is too great or too small; {0} and {1} are the least and the greatest. */
        OUT_OF_RANGE,
        /** A text is none of a few words, which are {0}. */
        NOT_AMONG,
        /** The value has to be unique, and is taken. */
        TAKEN,
        /** A check that was declared does not hold; its name is {0}. */
        CHECK,
        /** The value names no row; {0} is the entity. */
        NO_SUCH_ROW,
        /** There is no attribute of that name. */
        UNKNOWN_NAME,
        /** The attribute may not be set. */
        NOT_TO_BE_SET,
        /** The attribute is given more than once. */
        GIVEN_TWICE,
        /** Something else, which only the developers' words tell. */
        OTHER
    }

    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param code what kind of thing is wrong
     * @param arguments what the words of the code have places for, as {@link Code} says
     * @param reason what is wrong and what to do, in plain English, for whoever writes the program
     */
    public Flaw {
        arguments = List.copyOf(arguments);
    }

    /**
     * {@return a flaw of a kind}
     *
     * @param code the code of a constant
     * @param reason why, for developers
     * @param arguments what the words need
     */
    public static Flaw of(Code code, String reason, Object... arguments) {
        return new Flaw(code, List.of(arguments), reason);
    }

    /**
     * {@return one that has no code of its own}
     *
     * @param reason why, for developers
     */
    public static Flaw other(String reason) {
        return new Flaw(Code.OTHER, List.of(), reason);
    }

    /** {@return the key of its words in a message bundle: {@code too-long}, {@code unreadable.date}} */
    public String key() {
        String key = code.name().toLowerCase(Locale.ROOT).replace('_', '-');
        return code == Code.UNREADABLE ? key + "." + arguments.get(0) : key;
    }

    /**
     * Words for whoever has typed the value, to stand behind the name of the field: "may have at most 7 characters".
     * There are English and German ones; other languages are a bundle of the program's own, by {@link #key} and {@link
     * #arguments}.
     *
     * @param locale whose words are wanted
     * @return the words
     */
    public String words(Locale locale) {
        return FlawWords.of(this, locale);
    }
}
