package io.bathra.spring;

import io.bathra.error.Flaw.Code;
import io.bathra.error.Problem;
import java.util.List;
import org.springframework.context.i18n.LocaleContextHolder;
import org.springframework.validation.BindingResult;
import org.springframework.validation.FieldError;
import org.springframework.validation.ObjectError;

/**
 * Tells Spring's forms what is wrong with what somebody has typed.
 *
 * <p>The code of each error is the key of its flaw, {@code too-long} say, as Spring resolves codes: {@code
 * too-long.booking.number} and {@code too-long} in a bundle of the application have precedence over our words.
 */
public final class FormProblems {
    private FormProblems() {}

    /**
     * Adds problems to what is known of a form, in the words of the current locale. What is wrong with several
     * attributes together is an error of the form as a whole.
     *
     * @param problems all that is wrong
     * @param form where Spring keeps the problems of a form
     */
    public static void tell(List<Problem> problems, BindingResult form) {
        for (Problem problem : problems) {
            String field = problem.attribute();
            String key = problem.flaw().key();
            Object[] arguments = problem.flaw().arguments().toArray();
            String words = problem.words(LocaleContextHolder.getLocale());
            if (field.contains("+") || field.equals("*")) {
                form.addError(new ObjectError(
                        form.getObjectName(), form.resolveMessageCodes(key), arguments, field + " " + words));
            } else {
                form.addError(new FieldError(
                        form.getObjectName(),
                        field,
                        problem.value(),
                        problem.flaw().code() == Code.UNREADABLE,
                        form.resolveMessageCodes(key, field),
                        arguments,
                        words));
            }
        }
    }
}
