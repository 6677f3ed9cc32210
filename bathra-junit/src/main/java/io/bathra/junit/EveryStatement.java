package io.bathra.junit;

import io.bathra.error.BathraException;
import io.bathra.junit.StoreExtension.UnitTask;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Does a piece of work with each of its statements failing. */
final class EveryStatement {
    private final StoreExtension db;
    private final UnitTask task;
    private final List<Object> objects;
    private final String rowsBefore;
    private final List<Map<String, String>> objectsBefore;

    EveryStatement(StoreExtension db, UnitTask task, Object... objects) {
        this.db = db;
        this.task = task;
        this.objects = Arrays.asList(objects);
        this.rowsBefore = db.allRows();
        this.objectsBefore = states();
    }

    private List<Map<String, String>> states() {
        return objects.stream()
                .map(object -> ObjectState.of(db.store().model(), object))
                .toList();
    }

    int fails() {
        int statements = statements();
        for (int i = 1; i <= statements; i++) {
            int number = i;
            String where = "statement " + i + " of " + statements;
            attempt(where, () -> db.faults().on(number).uniqueViolation(), this::asAPiece);
            objectsAsBefore(where);
            attempt(
                    where + ", with the connection lost",
                    () -> db.faults().on(number).connectionLost(),
                    this::byItself);
        }
        attempt(
                "the commit, with the connection lost",
                () -> db.faults().onCommit().connectionLost(),
                this::byItself);
        byItself();
        return statements;
    }

    private void byItself() {
        db.store().run(task::in);
    }

    /** A piece of a unit of work, which is taken back alone, with what it has done to objects. */
    private void asAPiece() {
        db.store().run(work -> work.run(task::in));
    }

    /** How many statements the work has: it is done, and fails at its end. */
    private int statements() {
        int before = db.statements().count();
        int[] behind = new int[1];
        try {
            db.store()
                    .run(work -> work.run(in -> {
                        task.in(in);
                        in.flush();
                        behind[0] = db.statements().count();
                        throw new GoBack();
                    }));
        } catch (GoBack e) {
            // so that all of it is taken back
        }
        rowsAsBefore("being taken back");
        objectsAsBefore("being taken back");
        return behind[0] - before;
    }

    private static final class GoBack extends RuntimeException {
        private static final long serialVersionUID = 1L;
    }

    private void attempt(String where, Runnable fault, Runnable work) {
        fault.run();
        BathraException failure = null;
        try {
            work.run();
        } catch (BathraException e) {
            failure = e;
        }
        boolean happened = db.faults().waiting().isEmpty();
        db.faults().clear();
        if (!happened) {
            throw new AssertionError(
                    where + " was to fail, but was not executed; the work does something else each time");
        }
        if (failure == null) {
            throw new AssertionError(where + " has failed, but nothing came out of the work");
        }
        rowsAsBefore(where);
    }

    private void rowsAsBefore(String where) {
        String rows = db.allRows();
        if (!rows.equals(rowsBefore)) {
            throw new AssertionError(
                    "after " + where + ", rows are not as before:\n" + rows + "\nbefore:\n" + rowsBefore);
        }
    }

    private void objectsAsBefore(String where) {
        List<Map<String, String>> now = states();
        for (int i = 0; i < now.size(); i++) {
            @Nullable String difference = difference(objectsBefore.get(i), now.get(i));
            if (difference != null) {
                throw new AssertionError("after " + where + ", an object is not as before: " + difference);
            }
        }
    }

    private static @Nullable String difference(Map<String, String> before, Map<String, String> now) {
        for (Map.Entry<String, String> field : before.entrySet()) {
            String value = now.get(field.getKey());
            if (!field.getValue().equals(value)) {
                return field.getKey() + " is " + value + ", but was " + field.getValue();
            }
        }
        return null;
    }
}
