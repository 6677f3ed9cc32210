package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.bulk.On;
import io.bathra.error.BathraException;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.reflect.Constructor;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Tables of very many columns: everything works with 500, and what no table keeps is refused in our words. */
@OnEachDatabase
class WideTableTest {
    private final TestDatabase database;

    @TempDir
    private Path folder;

    WideTableTest(TestDatabase database) {
        this.database = database;
    }

    private record Wide(Class<Object> type, Entity<Object> entity) {}

    /** An entity with a key and columns of one type, f0, f1 and so on. */
    private Wide wide(String type, int columns) {
        StringBuilder code = new StringBuilder("public class Wide {\n    public Long id;\n");
        for (int i = 0; i < columns; i++) {
            code.append("    public ").append(type).append(" f").append(i).append(";\n");
        }
        try {
            Path source = Files.writeString(folder.resolve("Wide.java"), code + "}\n");
            assertThat(ToolProvider.getSystemJavaCompiler().run(null, null, null, source.toString()))
                    .isZero();
            URL[] classes = {folder.toUri().toURL()};
            Class<?> made = new URLClassLoader(classes, getClass().getClassLoader()).loadClass("Wide");
            Constructor<?> constructor = made.getConstructor();
            @SuppressWarnings("unchecked") // whatever it is
            Class<Object> any = (Class<Object>) made;
            return new Wide(any, Entity.of(any, () -> {
                try {
                    return constructor.newInstance();
                } catch (ReflectiveOperationException e) {
                    throw new IllegalStateException(e);
                }
            }));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException(e);
        }
    }

    private static Object filled(Class<?> type, int columns) throws ReflectiveOperationException {
        Object object = type.getConstructor().newInstance();
        for (int i = 0; i < columns; i++) {
            type.getField("f" + i).set(object, i);
        }
        return object;
    }

    @Test
    void fiveHundredColumnsAreNotTooMany() throws ReflectiveOperationException {
        int columns = 500;
        Wide wide = wide("Integer", columns);
        Class<Object> type = wide.type();
        try (Store store = Trips.open(Model.of("wide", wide.entity()), database.empty())) {
            store.schema().createMissing();
            assertThat(store.schema().verify()).isEmpty();
            List<Object> rows = new ArrayList<>();
            for (int i = 0; i < 70; i++) {
                rows.add(filled(type, columns));
            }
            store.run(work -> rows.forEach(work::add));
            store.run(work -> {
                List<Object> read = work.from(type).list();
                assertThat(read).hasSize(70).first().hasFieldOrPropertyWithValue("f499", 499);
                assertThat(work.changes()).isEmpty();
                type.getField("f17").set(read.get(0), null);
                assertThat(work.flush().total().updated()).isOne();
            });
            assertThat(store.bulk(type).upsert(rows, On.named(List.of("id"))).updated())
                    .isOne();
        }
    }

    @Test
    void moreThanATableKeepsIsRefused() {
        if (database == TestDatabase.H2) {
            return; // it keeps more than a class has fields
        }
        try (Store store = Trips.open(Model.of("wide", wide("Integer", 2_100).entity()), database.empty())) {
            assertThatThrownBy(() -> store.schema().createMissing())
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("the table wide has 2101 columns, but " + store.databaseName() + " keeps ");
        }
        if (database == TestDatabase.MARIADB) {
            try (Store store = Trips.open(Model.of("wide", wide("String", 500).entity()), database.empty())) {
                assertThatThrownBy(() -> store.schema().createMissing())
                        .isInstanceOf(BathraException.class)
                        .hasMessageContaining("a row of this table is wider than MariaDB keeps");
            }
        }
    }
}
