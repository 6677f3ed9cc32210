package io.bathra.contract;

import static io.bathra.model.Declare.required;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.UnreadLinkException;
import io.bathra.link.Later;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.TraceLine;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Large values that are read on request. */
@OnEachDatabase
class LaterTest {
    static final class Document {
        private Long id;
        private String title;
        private final Later<byte[]> scan = Later.empty();
        private final Later<String> words = Later.empty();

        Later<byte[]> scan() {
            return scan;
        }

        static Document of(int number) {
            Document document = new Document();
            document.title = "document " + number;
            document.scan.set(new byte[] {1, 2, (byte) number});
            document.words.set("words of " + number);
            return document;
        }
    }

    static final Entity<?>[] ENTITIES = {
        Entity.of(Document.class, Document::new).column(Document::scan, required())
    };

    private final Store store;
    private Keys keys;

    LaterTest(TestDatabase database) {
        store = Trips.open(Model.of("documents", ENTITIES), database.empty());
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
        store.run(work -> IntStream.range(0, 100).mapToObj(Document::of).forEach(work::add));
        keys = Keys.in(store, "document");
    }

    private static List<String> sql(UnitOfWork work) {
        return work.trace().statements().stream().map(TraceLine::sql).toList();
    }

    @Test
    void aValueIsReadWhenItIsAskedForWithSomeOfItsCohort() {
        try (UnitOfWork work = store.begin()) {
            List<Document> all = work.from(Document.class).list();
            assertThat(sql(work)).singleElement().asString().doesNotContain("scan", "words");
            assertThat(all.get(0).scan).hasToString("Later(unread)");
            assertThat(all.get(0).scan.get()).containsExactly(1, 2, 0);
            assertThat(all.get(63).scan.isRead()).isTrue();
            assertThat(all.get(64).scan.isRead()).as("memory stays bounded").isFalse();
            assertThat(all.get(5).words.isRead()).as("another column").isFalse();
            all.forEach(document -> assertThat(document.scan.get()).hasSize(3));
            assertThat(sql(work)).hasSize(3);
            assertThat(work.changes()).isEmpty();
        }
    }

    @Test
    void aChangeIsNoticedWhenItIsSetAndTheOldValueIsNotRead() {
        try (UnitOfWork work = store.begin()) {
            Document document = work.require(Document.class, keys.of("document", 1));
            document.words.set("others");
            assertThat(work.standing(document)).isEqualTo(Standing.DIRTY);
            assertThat(work.plan().steps())
                    .singleElement()
                    .satisfies(step -> assertThat(step.columns()).hasSize(1));
            work.flush();
            assertThat(work.standing(document)).isEqualTo(Standing.CLEAN);
            work.rollback();
            assertThat(work.standing(document)).as("taken back").isEqualTo(Standing.DIRTY);
            work.commit();
            document.words.clear();
            document.title = "without words";
            work.commit();
        }
        store.run(work -> {
            Document document = work.require(Document.class, keys.of("document", 1));
            assertThat(document.words.find()).isEmpty();
            assertThat(document.scan.get()).containsExactly(1, 2, 0);
            document.scan.clear();
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining(keys.in("Document {document 1}.scan = null: is required; set it"));
            document.scan.set(new byte[0]);
        });
        Document kept = store.call(work -> work.require(Document.class, keys.of("document", 2)));
        assertThatThrownBy(kept.scan::get)
                .isInstanceOf(UnreadLinkException.class)
                .hasMessageStartingWith(keys.in("Document {document 2}.scan was never read"));
    }
}
