package io.bathra.examples.web;

import static io.bathra.query.Ask.the;

import io.bathra.UnitOfWork;
import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.Conflict;
import io.bathra.spring.Units;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** What can be done with bookings; each method is a transaction. */
@Service
class BookingDesk {
    private final Units units;

    BookingDesk(Units units) {
        this.units = units;
    }

    @Transactional(readOnly = true)
    public Page<Booking> list(int size, @Nullable Mark after) {
        return units.here()
                .from(Booking.class)
                .orderBy(the(Booking::eta).ascending())
                .page(size, after);
    }

    @Transactional(readOnly = true)
    public Booking show(long id) {
        return units.here().require(Booking.class, id);
    }

    @Transactional
    public Booking create(BookingForm form) {
        Booking booking = new Booking();
        units.here().add(booking);
        fill(booking, form, null);
        return booking;
    }

    @Transactional
    public Booking change(long id, BookingForm form, int revision) {
        Booking booking = units.here().require(Booking.class, id);
        fill(booking, form, revision);
        return booking;
    }

    /** All that is wrong is told at once: texts that are no values, and values that cannot be stored. */
    private void fill(Booking booking, BookingForm form, @Nullable Integer revision) {
        UnitOfWork work = units.here();
        List<FieldProblem> problems = new ArrayList<>();
        work.carry(form.values(problems), booking, revision);
        work.problems().stream()
                .filter(problem ->
                        problems.stream().noneMatch(one -> one.field().equals(problem.attribute())))
                .map(problem -> new FieldProblem(
                        problem.attribute(),
                        problem.value() == null ? null : problem.value().toString(),
                        problem.reason()))
                .forEach(problems::add);
        if (!problems.isEmpty()) {
            throw new RefusedForm(problems);
        }
        work.flush(); // so that the answer has the key and the revision
    }

    @Transactional
    public void delete(long id, int revision) {
        UnitOfWork work = units.here();
        Booking booking = work.require(Booking.class, id);
        if (booking.revision() != revision) {
            throw new ConcurrentChangeException(
                    "delete",
                    List.of("Booking " + id),
                    List.of(new Conflict("Booking " + id, "revision", revision, null, booking.revision())));
        }
        work.remove(booking);
    }

    /** Stores what can be stored of many forms, and tells of the others; each is a piece of work of its own. */
    @Transactional
    public ImportReport take(List<BookingForm> forms) {
        List<ImportReport.Refused> refused = new ArrayList<>();
        UnitOfWork work = units.here();
        for (int line = 0; line < forms.size(); line++) {
            BookingForm form = forms.get(line);
            try {
                work.run(one -> {
                    Booking booking = new Booking();
                    one.add(booking);
                    fill(booking, form, null);
                });
            } catch (RuntimeException e) {
                refused.add(new ImportReport.Refused(line + 2, Answers.problems(e)));
            }
        }
        return new ImportReport(forms.size() - refused.size(), refused);
    }

    /** What became of an import; lines are counted from the heading on. */
    record ImportReport(int stored, List<Refused> refused) {
        record Refused(int line, List<FieldProblem> problems) {}
    }
}
