package io.bathra.contract;

import static io.bathra.attr.DeleteRule.CASCADE;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.removeOrphans;
import static io.bathra.model.Declare.required;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.FlushReport;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitListener;
import io.bathra.UnitOfWork;
import io.bathra.attr.Event;
import io.bathra.error.AfterCommitException;
import io.bathra.error.BathraException;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** Who listens hears of everything, in time, and of nothing that does not come to pass; orphans are removed. */
@OnEachDatabase
class ListenerTest {
    static final class Folder {
        private Long id;
        private String title;
        private final Link<Folder> parent = Link.empty();
        private final Links<Report> reports = Links.empty();

        Folder() {}

        Folder(String title) {
            this.title = title;
        }

        String title() {
            return title;
        }

        Link<Folder> parent() {
            return parent;
        }

        Links<Report> reports() {
            return reports;
        }
    }

    static final class Report {
        private Long id;
        private String title;
        private String search;
        private final Link<Folder> folder = Link.empty();
        private final Links<Page> pages = Links.empty();

        Report() {}

        Report(String title) {
            this.title = title;
        }

        String title() {
            return title;
        }

        String search() {
            return search;
        }

        Link<Folder> folder() {
            return folder;
        }

        Links<Page> pages() {
            return pages;
        }

        @Override
        public String toString() {
            return title;
        }
    }

    static final class Page {
        private Long id;
        private int number;
        private final Link<Report> report = Link.empty();

        Page() {}

        Page(Report report, int number) {
            this.report.set(report);
            this.number = number;
        }

        Link<Report> report() {
            return report;
        }
    }

    private final DataSource source;
    private final List<String> heard = new ArrayList<>();
    private Store store;
    private final Keys keys;

    ListenerTest(TestDatabase database) {
        source = database.empty();
        store = open(report -> report);
        store.schema().createMissing();
        store.run(work -> {
            for (String title : List.of("Spring", "Autumn")) {
                Folder folder = new Folder(title);
                work.add(folder);
                for (int i = 1; i <= 3; i++) {
                    Report report = new Report(title + " " + i);
                    folder.reports().add(report);
                    for (int page = 1; page <= 4; page++) {
                        work.add(new Page(report, page));
                    }
                }
            }
        });
        keys = Keys.in(store, "folder", "report");
    }

    /** A model with whatever listeners of reports; a report in no folder is removed, and its pages with it. */
    private Store open(UnaryOperator<Entity<Report>> listeners) {
        return Trips.open(
                        Model.of(
                                "reports",
                                Entity.of(Folder.class, Folder::new)
                                        .link(Folder::parent, onDelete(CASCADE))
                                        .links(Folder::reports, Report::folder, removeOrphans()),
                                listeners.apply(Entity.of(Report.class, Report::new)
                                        .column(Report::title, required(), length(40))
                                        .link(Report::folder, onDelete(CASCADE))
                                        .links(Report::pages, Page::report)),
                                Entity.of(Page.class, Page::new).link(Page::report, onDelete(CASCADE))),
                        source)
                .withKeysAhead(0);
    }

    private Store everything() {
        return open(report -> report.beforeInsert(r -> heard.add("before insert " + r))
                .afterInsert(r -> heard.add("after insert " + r + (r.id == null ? " without key" : "")))
                .beforeUpdate((r, changes) -> heard.add("before update " + r + " " + changes))
                .afterUpdate((r, changes) -> heard.add("after update " + r + " " + changes))
                .beforeRemove(
                        r -> heard.add("before remove " + r + " of " + r.pages().size() + " pages"))
                .afterRemove(r -> heard.add("after remove " + r))
                .afterCommit(Event.INSERT, r -> heard.add("inserted " + r))
                .afterCommit(Event.UPDATE, r -> heard.add("updated " + r))
                .afterCommit(Event.REMOVE, r -> heard.add("removed " + r)));
    }

    @AfterEach
    void close() {
        store.close();
    }

    @Test
    void eachEventIsHeardInTime() {
        store = everything();
        try (UnitOfWork work = store.begin()) {
            Folder folder = work.require(Folder.class, keys.of("folder", 1));
            folder.reports().add(new Report("New"));
            work.require(Report.class, keys.of("report", 2)).title = "Changed";
            work.remove(work.require(Report.class, keys.of("report", 3)));
            work.flush();
            assertThat(heard)
                    .containsExactly(
                            "before insert New",
                            "before update Changed [title: Spring 2 -> Changed]",
                            "before remove Spring 3 of 4 pages",
                            "after insert New",
                            "after update Changed [title: Spring 2 -> Changed]",
                            "after remove Spring 3");
            heard.clear();
            work.flush();
            assertThat(heard).isEmpty();
            work.commit();
            assertThat(heard).containsExactly("inserted New", "updated Changed", "removed Spring 3");
        }
    }

    @Test
    void nothingIsHeardAfterARollbackOrOfWhatDoesNotComeToPass() {
        store = everything();
        try (UnitOfWork work = store.begin()) {
            work.require(Report.class, keys.of("report", 2)).title = "Changed";
            work.flush();
            work.rollback();
            heard.clear();
            work.discard();
            work.commit();
            assertThat(heard).isEmpty();
        }
    }

    @Test
    void whatAListenerChangesIsPartOfTheFlush() {
        store = open(report -> report.beforeInsert(r -> {
                    r.search = r.title.toLowerCase();
                    r.pages().add(new Page(r, 1));
                })
                .beforeUpdate((r, changes) -> r.search = r.title.toLowerCase()));
        store.run(work -> {
            work.require(Folder.class, keys.of("folder", 1)).reports().add(new Report("NEW"));
            work.require(Report.class, keys.of("report", 1)).title = "OLD";
        });
        store.run(work -> {
            assertThat(work.from(Report.class).list())
                    .extracting(Report::search)
                    .contains("new", "old");
            Report added =
                    work.from(Report.class).where(the(Report::title).is("NEW")).one();
            assertThat(added.pages()).hasSize(1);
        });
    }

    @Test
    void anExceptionBeforehandStopsTheFlushWhole() {
        Consumer<Report> refuse = this::refuse;
        aListenerRefuses(report -> report.beforeInsert(refuse).beforeRemove(refuse));
    }

    @Test
    void anExceptionAfterwardsTakesTheFlushBack() {
        Consumer<Report> refuse = this::refuse;
        aListenerRefuses(report -> report.afterInsert(refuse).afterRemove(refuse));
    }

    private boolean refusing;

    private void refuse(Report report) {
        if (refusing) {
            throw new IllegalArgumentException("not " + report);
        }
    }

    private void aListenerRefuses(UnaryOperator<Entity<Report>> listeners) {
        store = open(listeners);
        try (UnitOfWork work = store.begin()) {
            Folder folder = work.require(Folder.class, keys.of("folder", 1));
            folder.title = "Kept";
            Report fresh = new Report("Fresh");
            folder.reports().add(fresh);
            refusing = true;
            assertThatThrownBy(work::flush)
                    .isInstanceOf(IllegalArgumentException.class)
                    .hasMessage("not Fresh");
            assertThat(work.standing(fresh)).isEqualTo(Standing.NEW);
            assertThat(fresh.id).isNull();
            assertThat(work.standing(folder)).isEqualTo(Standing.DIRTY);
            refusing = false;
            work.flush();
            assertThat(fresh.id).isNotNull();

            refusing = true;
            work.remove(folder);
            assertThatThrownBy(work::flush).hasMessageStartingWith("not ");
            assertThat(work.standing(folder)).isEqualTo(Standing.REMOVED);
            assertThat(work.standing(fresh)).isEqualTo(Standing.CLEAN);
            refusing = false;
            work.commit();
            assertThat(work.standing(fresh)).isEqualTo(Standing.UNTRACKED);
        }
        store.run(work -> assertThat(work.from(Report.class).count()).isEqualTo(3));
    }

    @Test
    void aRemoveListenerIsSeenInThePlanAndHearsOfEveryRow() {
        try (UnitOfWork work = store.begin()) {
            work.remove(work.require(Folder.class, keys.of("folder", 1)));
            assertThat(work.plan().toString())
                    .contains("left to the database's own delete rules: ")
                    .contains("page, report");
        }
        store = everything();
        try (UnitOfWork work = store.begin()) {
            work.remove(work.require(Folder.class, keys.of("folder", 1)));
            assertThat(work.plan().toString())
                    .contains("goes along (Report.folder); read first, one by one, for its remove listeners");
            work.trace().clear();
            FlushReport report = work.commit();
            assertThat(heard)
                    .containsExactly(
                            "before remove Spring 1 of 4 pages",
                            "before remove Spring 2 of 4 pages",
                            "before remove Spring 3 of 4 pages",
                            "after remove Spring 1",
                            "after remove Spring 2",
                            "after remove Spring 3",
                            "removed Spring 1",
                            "removed Spring 2",
                            "removed Spring 3");
            assertThat(report.of(Report.class).deleted()).isEqualTo(3);
            assertThat(report.leftToDatabase()).contains("page").doesNotContain("report");
            assertThat(work.trace().statements().stream()
                            .filter(line -> line.sql().startsWith("delete")))
                    .as("the reports by one, the folder by another")
                    .hasSize(2);
        }
    }

    @Test
    void whatAHandleChangesOrRemovesIsHeardOfAsAnEntity() {
        store = everything();
        try (UnitOfWork work = store.begin()) {
            work.row(Report.class, keys.of("report", 1)).set(Report::title, "Unseen");
            work.row(Report.class, keys.of("report", 2)).remove();
            work.commit();
            assertThat(heard)
                    .contains("before update Unseen [title: Spring 1 -> Unseen]")
                    .contains("before remove Spring 2 of 4 pages")
                    .contains("updated Unseen", "removed Spring 2");
            heard.clear();
            work.row(Report.class, 99L).remove();
            assertThatThrownBy(work::flush).hasMessageContaining("Report 99 is not there");
            assertThat(heard).isEmpty();
        }
    }

    @Test
    void aDeletionByQueryDoesNotPassListenersBySilently() {
        store = everything();
        try (UnitOfWork work = store.begin()) {
            assertThatThrownBy(() -> work.from(Folder.class).delete())
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("would remove rows of Report")
                    .hasMessageContaining("bypassListeners()");
            assertThatThrownBy(() -> work.from(Report.class).delete()).hasMessageContaining("rows of Report");
            assertThat(work.from(Report.class).bypassListeners().delete()).isEqualTo(6);
            assertThat(work.from(Folder.class).bypassListeners().delete()).isEqualTo(2);
            assertThat(work.from(Page.class).count()).isZero();
            work.commit();
        }
        assertThat(heard).isEmpty();
    }

    @Test
    void aFailureAfterTheCommitTakesNothingBackAndKeepsNobodyFromHearing() {
        store = open(report -> report.afterCommit(Event.UPDATE, r -> {
            heard.add("updated " + r);
            throw new IllegalStateException("no mail server for " + r);
        }));
        try (UnitOfWork work = store.begin()) {
            work.require(Report.class, keys.of("report", 1)).title = "A";
            work.require(Report.class, keys.of("report", 2)).title = "B";
            assertThatThrownBy(work::commit)
                    .isInstanceOf(AfterCommitException.class)
                    .hasMessageContaining("everything is committed")
                    .hasMessageContaining("no mail server for A");
        }
        assertThat(heard).containsExactly("updated A", "updated B");
        String title = store.call(
                work -> work.require(Report.class, keys.of("report", 2)).title());
        assertThat(title).isEqualTo("B");
    }

    @Test
    void aUnitTellsOfItsFlushesCommitsAndRollbacks() {
        try (UnitOfWork work = store.begin()) {
            work.listen(new UnitListener() {
                @Override
                public void flushed(UnitOfWork unit, FlushReport report) {
                    heard.add("flushed " + report.total().updated());
                }

                @Override
                public void committed(UnitOfWork unit, FlushReport report) {
                    heard.add("committed " + report.total().updated());
                }

                @Override
                public void rolledBack(UnitOfWork unit) {
                    heard.add("rolled back");
                }
            });
            work.require(Report.class, keys.of("report", 1)).title = "A";
            work.flush();
            work.rollback();
            work.flush();
            work.require(Report.class, keys.of("report", 2)).title = "B";
            work.commit();
        }
        assertThat(heard).containsExactly("flushed 1", "rolled back", "flushed 1", "flushed 1", "committed 2");
    }

    @Test
    void orphansAreRemovedAndMovedOnesAreNot() {
        store = everything();
        try (UnitOfWork work = store.begin()) {
            Folder spring = work.require(Folder.class, keys.of("folder", 1));
            Folder autumn = work.require(Folder.class, keys.of("folder", 2));
            List<Report> reports = List.copyOf(spring.reports());
            spring.reports().remove(reports.get(0));
            spring.reports().remove(reports.get(1));
            autumn.reports().add(reports.get(1));
            spring.reports().remove(reports.get(2));
            spring.reports().add(reports.get(2));
            assertThat(work.standing(reports.get(0))).isEqualTo(Standing.REMOVED);
            assertThat(work.standing(reports.get(1))).isEqualTo(Standing.DIRTY);
            assertThat(work.standing(reports.get(2))).isEqualTo(Standing.CLEAN);
            assertThat(work.changes()).hasSize(2);
            work.flush();
            assertThat(work.standing(reports.get(0))).isEqualTo(Standing.UNTRACKED);
            work.rollback();
            assertThat(work.standing(reports.get(0))).isEqualTo(Standing.REMOVED);
            work.commit();
            assertThat(heard).contains("removed Spring 1").doesNotContain("removed Spring 2");
        }
        store.run(work -> {
            assertThat(work.require(Folder.class, keys.of("folder", 1)).reports())
                    .extracting(Report::title)
                    .containsExactly("Spring 3");
            assertThat(work.require(Folder.class, keys.of("folder", 2)).reports())
                    .hasSize(4);
            assertThat(work.from(Page.class).count()).isEqualTo(20);
            work.require(Folder.class, keys.of("folder", 2)).reports().clear();
        });
        store.run(work -> assertThat(work.from(Report.class).count()).isEqualTo(1));
    }
}
