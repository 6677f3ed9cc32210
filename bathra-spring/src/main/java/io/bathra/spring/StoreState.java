package io.bathra.spring;

import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.spring.OpenUnits.OpenUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** How a store is, for whoever operates the application. */
final class StoreState {
    private final Store store;
    private final OpenUnits units;

    StoreState(Store store, OpenUnits units) {
        this.store = store;
        this.units = units;
    }

    /** What fails when the database is asked something; null when nothing does. */
    @Nullable
    BathraException failure() {
        try {
            store.sql("select 1").as(Integer.class).one();
            return null;
        } catch (BathraException e) {
            return e;
        }
    }

    /** What does not change while the application runs. */
    Map<String, Object> what() {
        Map<String, Object> what = new LinkedHashMap<>();
        what.put("model", store.model().name());
        what.put("entities", store.model().entities().size());
        what.put("database", store.databaseName());
        return what;
    }

    /** What is under way. */
    Map<String, Object> now() {
        List<OpenUnit> open = units.list();
        Map<String, Object> now = new LinkedHashMap<>();
        now.put("database", store.databaseName());
        now.put("openUnits", open.size());
        if (!open.isEmpty()) {
            now.put("oldestOpenFor", open.get(0).openFor().toString());
        }
        return now;
    }
}
