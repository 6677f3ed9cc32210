package io.bathra.examples.web;

import java.util.List;

/** A form with problems. */
final class RefusedForm extends RuntimeException {
    private final transient List<FieldProblem> problems;

    RefusedForm(List<FieldProblem> problems) {
        super(problems.toString());
        this.problems = List.copyOf(problems);
    }

    List<FieldProblem> problems() {
        return problems;
    }
}
