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
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/** Rows that would not fit into the memory all at once are stored in bulk. */
@Tag("exhaustive")
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
            content = ("content of the box with the number " + number + "; ").repeat(REPEATED);
            kilos = number % 1_000;
        }

        String serial() {
            return serial;
        }
    }

    private static final Model MODEL =
            Model.of("boxes", Entity.of(Box.class, Box::new).column(Box::serial, required(), length(12), unique()));
    private static final boolean LONG = Boolean.getBoolean("bathra.long");
    private static final int ROWS = LONG ? 300_000 : 70_000;
    /** Either way, all rows at once take more than there is: many small ones, or fewer large ones. */
    private static final int REPEATED = LONG ? 1 : 16;

    private static final int MEGABYTES = 48;

    private final TestDatabase database;

    BulkMemoryTest(TestDatabase database) {
        this.database = database;
    }

    @Test
    void manyRowsAreInsertedAndUpsertedInASmallHeap() throws Exception {
        String url = database.sharedUrl();
        assertThat(OtherProcess.within(MEGABYTES, Writer.class, url, String.valueOf(ROWS))
                        .output())
                .contains(
                        ROWS + " inserted",
                        ROWS / 10 + " inserted, " + ROWS / 20 + " updated, " + (ROWS - ROWS / 20) + " unchanged");
    }

    /** Inserts all, and upserts them again with a tenth that is new and a twentieth that has changed. */
    static final class Writer {
        public static void main(String[] arguments) {
            int rows = Integer.parseInt(arguments[1]);
            try (Store store = Trips.open(MODEL, arguments[0])) {
                store.schema().createMissing();
                System.out.println(store.bulk(Box.class).insert(boxes(rows)).inserted() + " inserted");
                BulkResult again = store.bulk(Box.class)
                        .upsert(
                                boxes(rows / 10 * 11).peek(box -> {
                                    int number = Integer.parseInt(box.serial.substring(3));
                                    box.kilos += number % 20 == 7 && number < rows ? 1 : 0;
                                }),
                                on(Box::serial));
                System.out.println(again.inserted() + " inserted, " + again.updated() + " updated, " + again.unchanged()
                        + " unchanged");
            }
        }

        private static Stream<Box> boxes(int count) {
            return IntStream.range(0, count).mapToObj(Box::new);
        }
    }
}
