package io.bathra.examples.web;

import io.bathra.error.InvalidChangesException;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.UniqueViolation;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.context.i18n.LocaleContextHolder;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;

/** What went wrong, as an answer: problems by field (422), a lost race (409), nothing there (404). */
@RestControllerAdvice
class Answers {
    @ExceptionHandler
    ResponseEntity<Map<String, Object>> answer(RuntimeException e) {
        List<FieldProblem> problems = problems(e);
        if (!problems.isEmpty()) {
            return ResponseEntity.unprocessableContent().body(Map.of("problems", problems));
        }
        LostRace race = LostRace.of(e);
        if (race != null) {
            return ResponseEntity.status(HttpStatus.CONFLICT).body(Map.of("conflicts", race.clashes()));
        }
        if (cause(e, NoSuchRowException.class) != null) {
            return ResponseEntity.status(HttpStatus.NOT_FOUND).body(Map.of("message", "there is no such booking"));
        }
        throw e;
    }

    /** What is wrong with fields, in the language of the request; nothing where it is something else. */
    static List<FieldProblem> problems(RuntimeException e) {
        InvalidChangesException invalid = cause(e, InvalidChangesException.class);
        if (invalid != null) {
            return invalid.problems().stream()
                    .map(problem -> new FieldProblem(
                            problem.attribute(), text(problem.value()), problem.words(LocaleContextHolder.getLocale())))
                    .toList();
        }
        UniqueViolation taken = cause(e, UniqueViolation.class); // somebody took it between the question and the flush
        return taken == null
                ? List.of()
                : taken.place().attributes().stream()
                        .map(field -> new FieldProblem(field, text(taken.place().value()), "is taken"))
                        .toList();
    }

    private static @Nullable String text(@Nullable Object value) {
        return value == null ? null : Objects.toString(value);
    }

    /** What is behind a failure, if it is of this kind. */
    static <X extends Throwable> @Nullable X cause(Throwable e, Class<X> type) {
        for (Throwable next = e; next != null; next = next.getCause()) {
            if (type.isInstance(next)) {
                return type.cast(next);
            }
        }
        return null;
    }
}
