package io.bathra.contract;

import static io.bathra.bulk.On.on;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.bulk.BulkResult;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.OtherProcess;
import io.bathra.testing.TestDatabase;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Rows that would not fit into the memory all at once are stored in bulk. */
@OnEachDatabase
class BulkMemoryTest {
    static final class Box {
        private Long id;
        private String serial;
        private String content;
        private int kilos;

        Box() {}

        Box(int number) {
            serial = "SER" + number;
            content = "content of the box with the number " + number;
            kilos = number % 1_000;
        }

        String serial() {
            return serial;
        }
    }

    private static final Model MODEL =
            Model.of("boxes", Entity.of(Box.class, Box::new).column(Box::serial, required(), length(12), unique()));
    private static final int ROWS = 300_000;
    private static final int MEGABYTES = 48;

    private final TestDatabase database;

    BulkMemoryTest(TestDatabase database) {
        this.database = database;
    }

    @Test
    void manyRowsAreInsertedAndUpsertedInASmallHeap() throws Exception {
        String url = database.sharedUrl();
        assertThat(OtherProcess.within(MEGABYTES, Writer.class, url).output())
                .contains("300000 inserted", "30000 inserted, 15000 updated, 285000 unchanged");
    }

    /** Inserts all, and upserts them again with a tenth that is new and a twentieth that has changed. */
    static final class Writer {
        public static void main(String[] arguments) {
            try (Store store = Store.open(MODEL, arguments[0])) {
                store.schema().createMissing();
                System.out.println(store.bulk(Box.class).insert(boxes(ROWS)).inserted() + " inserted");
                BulkResult again = store.bulk(Box.class)
                        .upsert(
                                boxes(ROWS / 10 * 11).peek(box -> {
                                    int number = Integer.parseInt(box.serial.substring(3));
                                    box.kilos += number % 20 == 7 && number < ROWS ? 1 : 0;
                                }),
                                on(Box::serial));
                System.out.println(again.inserted() + " inserted, " + again.updated() + " updated, " + again.unchanged()
                        + " unchanged");
            }
        }

        private static Stream<Box> boxes(int rows) {
            return IntStream.range(0, rows).mapToObj(Box::new);
        }
    }
}
