package io.bathra.examples.web;

import static io.bathra.query.Ask.the;

import io.bathra.UnitOfWork;
import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.Problem;
import io.bathra.json.EntityJson;
import io.bathra.json.JsonShape;
import io.bathra.spring.Units;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** What can be done with bookings; each method is a transaction. */
@Service
class BookingDesk {
    private static final JsonShape<Booking> BOOKING = JsonShape.of(Booking.class);

    private final Units units;
    private final EntityJson json;

    BookingDesk(Units units, EntityJson json) {
        this.units = units;
        this.json = json;
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
    public Booking create(Map<String, String> form) {
        return store(units.here(), form);
    }

    private static Booking store(UnitOfWork work, Map<String, String> form) {
        Booking booking = new Booking();
        work.add(booking);
        flush(work, fill(work, booking, form));
        return booking;
    }

    @Transactional
    public Booking change(long id, Map<String, String> form, int revision) {
        UnitOfWork work = units.here();
        Booking booking = work.require(Booking.class, id);
        List<Problem> problems = fill(work, booking, form);
        LostRace.refuse(booking.revision(), revision, work.changes());
        flush(work, problems);
        return booking;
    }

    /** Changes what a merge patch names. */
    @Transactional
    public Booking patch(long id, InputStream patch, int revision) {
        UnitOfWork work = units.here();
        Booking booking = work.require(Booking.class, id);
        List<Problem> problems = json.patch(BOOKING, booking, patch);
        LostRace.refuse(booking.revision(), revision, work.changes());
        flush(work, problems);
        return booking;
    }

    /** Takes what somebody has typed; the attributes that are not named stay as they are, whatever he sends. */
    private static List<Problem> fill(UnitOfWork work, Booking booking, Map<String, String> form) {
        return work.bind(
                booking,
                form,
                Booking::number,
                Booking::vessel,
                Booking::berth,
                Booking::eta,
                Booking::draughtCentimetres,
                Booking::remark);
    }

    /** All that is wrong is told at once; that a number is taken, when nothing else is. */
    private static void flush(UnitOfWork work, List<Problem> problems) {
        List<Problem> all = problems.isEmpty() ? work.problems() : problems;
        if (!all.isEmpty()) {
            throw new InvalidChangesException(all);
        }
        work.flush(); // so that the answer has the key and the revision
    }

    @Transactional
    public void delete(long id, int revision) {
        UnitOfWork work = units.here();
        Booking booking = work.require(Booking.class, id);
        LostRace.refuse(booking.revision(), revision, List.of());
        work.remove(booking);
    }

    /** Stores what can be stored of many forms, and tells of the others; each is a piece of work of its own. */
    @Transactional
    public ImportReport take(List<Map<String, String>> forms) {
        List<ImportReport.Refused> refused = new ArrayList<>();
        UnitOfWork work = units.here();
        for (int line = 0; line < forms.size(); line++) {
            Map<String, String> form = forms.get(line);
            try {
                work.run(one -> store(one, form));
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
