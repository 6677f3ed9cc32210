package io.bathra.cli.session;

import io.bathra.error.BathraException;
import java.time.Duration;
import java.util.Locale;

/** Numbers, times and failures in words. */
final class Words {
    private Words() {}

    static String count(long number, String what) {
        String several = what.endsWith("y") ? what.substring(0, what.length() - 1) + "ies" : what + "s";
        return String.format(Locale.ROOT, "%,d %s", number, number == 1 ? what : several);
    }

    static String time(Duration age) {
        long seconds = age.toSeconds();
        return seconds < 60 ? seconds + " s" : seconds < 3_600 ? seconds / 60 + " min" : seconds / 3_600 + " h";
    }

    /** Class and message, without the way. */
    static String of(Throwable failure) {
        StringBuilder text = new StringBuilder();
        String message = failure.getMessage();
        text.append(failure.getClass().getSimpleName());
        if (message != null) {
            text.append(": ");
            message.lines()
                    .forEach(line -> text.append(text.charAt(text.length() - 1) == ' ' ? "" : "\n")
                            .append(Cells.safe(line)));
        }
        Throwable cause = failure.getCause();
        if (cause != null && !(failure instanceof BathraException) && cause.getMessage() != null) {
            text.append("\ncaused by ").append(of(cause));
        }
        return text.toString();
    }

    /** How many letters are to be put in, left out or changed to make one word of another. */
    static int distance(String one, String other) {
        int[] before = new int[other.length() + 1];
        for (int j = 0; j <= other.length(); j++) {
            before[j] = j;
        }
        for (int i = 1; i <= one.length(); i++) {
            int[] now = new int[other.length() + 1];
            now[0] = i;
            for (int j = 1; j <= other.length(); j++) {
                int changed = before[j - 1] + (one.charAt(i - 1) == other.charAt(j - 1) ? 0 : 1);
                now[j] = Math.min(changed, Math.min(before[j], now[j - 1]) + 1);
            }
            before = now;
        }
        return before[other.length()];
    }
}
