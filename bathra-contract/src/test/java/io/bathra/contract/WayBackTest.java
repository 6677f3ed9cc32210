package io.bathra.contract;

import static io.bathra.attr.DeleteRule.SET_NULL;
import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.required;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.FlushReport;
import io.bathra.Savepoint;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitListener;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.InvalidChangesException;
import io.bathra.link.Later;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * After a rollback, memory says what the database says; what the user wants is still to be done, or taken back with its
 * place.
 */
@OnEachDatabase
class WayBackTest {
    static final class Cat {
        Long id;
        String name;
        int prio;
        int revision;
        List<String> tags = new ArrayList<>();
        final Later<String> note = Later.empty();
        final Link<Cat> parent = Link.empty();
        final Links<Cat> children = Links.empty();
        final Links<Cat> friends = Links.empty();

        Cat() {}

        Cat(String name) {
            this.name = name;
        }

        Long id() {
            return id;
        }

        String name() {
            return name;
        }

        int prio() {
            return prio;
        }

        int revision() {
            return revision;
        }

        List<String> tags() {
            return tags;
        }

        Link<Cat> parent() {
            return parent;
        }

        Links<Cat> children() {
            return children;
        }

        Links<Cat> friends() {
            return friends;
        }
    }

    static final class Ord {
        String code;
        int pieces;

        Ord() {}

        Ord(String code) {
            this.code = code;
        }

        String code() {
            return code;
        }
    }

    static final Entity<Cat> CAT = Entity.of(Cat.class, Cat::new)
            .column(Cat::name, required(), length(20))
            .version(Cat::revision)
            .parts(Cat::tags)
            .link(Cat::parent, onDelete(SET_NULL))
            .links(Cat::children, Cat::parent)
            .pivot(Cat::friends);

    static final Entity<Ord> ORD =
            Entity.of(Ord.class, Ord::new).key(Ord::code, assigned()).column(Ord::code, length(20));

    private final Store store;

    WayBackTest(TestDatabase database) {
        store = Trips.open(Model.of("ways", CAT, ORD), database.empty());
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        store.run(work -> {
            Cat top = new Cat("top");
            top.note.set("old note");
            top.tags.add("old tag");
            Cat child = new Cat("child");
            child.parent.set(top);
            work.add(top);
            work.add(child);
            work.add(new Cat("third"));
            work.add(new Ord("o"));
        });
    }

    private static Cat cat(UnitOfWork work, String name) {
        return work.from(Cat.class).where(text(Cat::name).is(name)).one();
    }

    private String value(String column, String name) {
        return store.sql("select " + column + " as it from cat where name = :name")
                .with("name", name)
                .as(String.class)
                .one();
    }

    private List<String> names() {
        return store.sql("select name from cat order by name").as(String.class).list();
    }

    private static void clean(UnitOfWork work, Object object) {
        assertThat(work.standing(object)).isEqualTo(Standing.CLEAN);
    }

    private void unit(Consumer<UnitOfWork> work) {
        try (UnitOfWork unit = store.begin()) {
            work.accept(unit);
            unit.discard();
        }
    }

    // ---- rollback: what is asked for is still to be done

    @Test
    void aLaterThatWasSetIsStoredAfterWhateverWasReadMeanwhile() {
        List<Consumer<UnitOfWork>> ways = List.of(
                w -> w.from(Cat.class).list(),
                w -> w.refresh(cat(w, "top")),
                w -> w.discard(cat(w, "top")),
                w -> w.sql("update cat set prio = prio + 1").execute(),
                w -> w.from(Cat.class).update(the(Cat::prio).to(7)));
        for (Consumer<UnitOfWork> way : ways) {
            unit(work -> {
                Cat top = cat(work, "top");
                top.note.set("new " + ways.indexOf(way));
                work.flush();
                way.accept(work);
                work.rollback();
                work.commit();
                assertThat(value("note", "top")).isEqualTo("new " + ways.indexOf(way));
            });
        }
        unit(work -> {
            Cat fresh = new Cat("fresh");
            fresh.note.set("its note");
            work.add(fresh);
            work.flush();
            work.from(Cat.class).list();
            work.rollback();
            assertThat(fresh.id).isNull();
            work.commit();
            assertThat(value("note", "fresh")).isEqualTo("its note");
        });
    }

    @Test
    void whatWasForgottenIsRolledBackLikeAnythingElse() {
        unit(work -> {
            Cat a = new Cat("a");
            work.add(a);
            work.flush();
            work.forgetAll();
            work.rollback();
            assertThat(a.id).isNull();
            work.commit();
            assertThat(names()).containsExactly("child", "third", "top");
        });
        assertThatThrownBy(() -> store.run(work -> {
                    work.add(new Cat("b"));
                    work.flush();
                    work.forgetAll();
                    throw new IllegalStateException("the user's own");
                }))
                .hasMessage("the user's own");
        assertThat(names()).hasSize(3);
    }

    @Test
    void phantomsAreTrackedNoLonger() {
        unit(work -> {
            work.bulk(Ord.class).insert(List.of(new Ord("p")));
            Ord phantom = work.require(Ord.class, "p");
            work.remove(phantom);
            work.rollback();
            assertThat(work.standing(phantom)).isEqualTo(Standing.UNTRACKED);
            work.add(new Ord("p"));
            FlushReport report = work.commit();
            assertThat(report.of(Ord.class).inserted()).isEqualTo(1);
            assertThat(report.of(Ord.class).deleted()).isZero();
        });
        assertThat(store.sql("select code from ord order by code")
                        .as(String.class)
                        .list())
                .containsExactly("o", "p");
        unit(work -> {
            work.bulk(Ord.class).insert(List.of(new Ord("q")));
            Ord phantom = work.require(Ord.class, "q");
            work.rollback();
            store.run(other -> other.add(new Ord("q")));
            Ord theirs = work.require(Ord.class, "q");
            assertThat(theirs).isNotSameAs(phantom);
            phantom.pieces = 9;
            assertThat(work.changes()).isEmpty();
        });
    }

    @Test
    void whatAHandleWasToldIsStillToBeWritten() {
        unit(work -> {
            Long id = store.call(other -> cat(other, "top").id);
            work.row(Cat.class, id).set(Cat::prio, 99);
            work.flush();
            Cat top = work.require(Cat.class, id);
            work.rollback();
            work.commit();
            assertThat(top.prio).isEqualTo(99);
            clean(work, top);
            assertThat(value("prio", "top")).isEqualTo("99");
        });
    }

    @Test
    void whatWasReadAfterAStatementShowsWhatIsThere() {
        unit(work -> {
            work.sql("update cat set name = 'new' where name = 'top'").execute();
            Cat cat = cat(work, "new");
            work.rollback();
            assertThat(cat.name).isEqualTo("top");
            clean(work, cat);
            cat.name = "new";
            work.commit();
            assertThat(names()).containsExactly("child", "new", "third");
        });
    }

    @Test
    void aSetWiseUpdateIsAsIfItHadNeverBeen() {
        unit(work -> {
            Cat top = cat(work, "top");
            Cat fresh = new Cat("X");
            work.add(fresh);
            work.flush();
            work.from(Cat.class).update(the(Cat::name).to("Y"));
            assertThat(fresh.name).isEqualTo("Y");
            top.prio = 5;
            work.flush();
            work.rollback();
            assertThat(top.name).isEqualTo("top");
            assertThat(fresh.name).isEqualTo("X");
            work.commit();
            clean(work, top);
            assertThat(top.prio).isEqualTo(5);
            assertThat(names()).containsExactly("X", "child", "third", "top");
            assertThat(value("prio", "top")).isEqualTo("5");
        });
    }

    @Test
    void aChildThatWasReadWithoutItsParentHasItAgain() {
        unit(work -> {
            Cat top = cat(work, "top");
            work.remove(top);
            work.flush();
            Cat child = cat(work, "child");
            assertThat(child.parent.isEmpty()).isTrue();
            work.rollback();
            work.add(top);
            assertThat(child.parent.get()).isSameAs(top);
            work.commit();
            assertThat(value("parent_id", "child")).isEqualTo(String.valueOf(top.id));
        });
    }

    @Test
    void oneRowIsOneObject() {
        unit(work -> {
            Cat first = cat(work, "top");
            first.name = "changed";
            work.flush();
            work.forget(first);
            Cat second = work.require(Cat.class, first.id);
            work.rollback();
            assertThat(List.of(work.standing(first), work.standing(second))).containsOnlyOnce(Standing.UNTRACKED);
            assertThat(work.require(Cat.class, first.id)).isSameAs(second);
            assertThat(second.name).isEqualTo("top");
            work.commit();
            assertThat(names()).containsExactly("child", "third", "top");
        });
    }

    @Test
    void partsAndPairsAreStillToBeWritten() {
        unit(work -> {
            Cat top = cat(work, "top");
            Cat third = cat(work, "third");
            top.tags.add("new tag");
            top.friends.add(third);
            work.flush();
            work.refresh(top);
            assertThat(top.friends).containsExactly(third);
            work.rollback();
            assertThat(top.tags).containsExactly("old tag", "new tag");
            work.commit();
            clean(work, top);
        });
        store.run(work -> {
            assertThat(cat(work, "top").tags).containsExactly("old tag", "new tag");
            assertThat(cat(work, "top").friends).extracting(Cat::name).containsExactly("third");
        });
    }

    // ---- a place: what was asked for is taken back as well

    private static final class Wrong extends RuntimeException {}

    /** Ways to take a piece of work back. */
    private List<Consumer<Consumer<UnitOfWork>>> places(UnitOfWork work) {
        return List.of(
                task -> assertThatThrownBy(() -> work.run(inner -> {
                            task.accept(inner);
                            throw new Wrong();
                        }))
                        .isInstanceOf(Wrong.class),
                task -> assertThatThrownBy(() -> work.run(inner -> {
                            task.accept(inner);
                            inner.flush();
                            throw new Wrong();
                        }))
                        .isInstanceOf(Wrong.class),
                task -> {
                    Savepoint savepoint = work.savepoint();
                    task.accept(work);
                    savepoint.rollback();
                });
    }

    @Test
    void whatIsAskedForInsideLeavesNoTrace() {
        unit(work -> {
            Cat top = cat(work, "top");
            Cat child = cat(work, "child");
            Cat third = cat(work, "third");
            List<String> tags = top.tags;
            top.children.size();
            top.friends.size();
            for (Consumer<Consumer<UnitOfWork>> place : places(work)) {
                Cat added = new Cat("added");
                place.accept(inner -> {
                    inner.add(added);
                    added.parent.set(top);
                    inner.remove(child);
                    third.name = "other";
                    third.parent.set(top);
                    top.prio = 3;
                    top.note.set("other note");
                    top.tags.add("other tag");
                    top.friends.add(third);
                });
                assertThat(work.standing(added)).isEqualTo(Standing.UNTRACKED);
                assertThat(added.id).isNull();
                assertThat(List.of(top, child, third)).allSatisfy(one -> clean(work, one));
                assertThat(third.name).isEqualTo("third");
                assertThat(third.parent.isEmpty()).isTrue();
                assertThat(top.prio).isZero();
                assertThat(top.tags).isSameAs(tags).containsExactly("old tag");
                assertThat(top.note.get()).isEqualTo("old note");
                assertThat(top.children).containsExactly(child);
                assertThat(top.friends).isEmpty();
            }
            work.commit();
        });
        assertThat(names()).containsExactly("child", "third", "top");
    }

    @Test
    void invalidLinesOfAnImportLeaveTheOthersAlone() {
        List<String> failed = new ArrayList<>();
        store.run(work -> {
            for (String name : java.util.Arrays.asList("one", "two", null, "three", "four", "five")) {
                try {
                    work.run(inner -> inner.add(new Cat(name)));
                } catch (InvalidChangesException e) {
                    failed.add(e.problems().get(0).attribute());
                }
            }
        });
        assertThat(failed).containsExactly("name");
        assertThat(names()).contains("one", "two", "three", "four", "five").hasSize(8);
    }

    // ---- who fails meanwhile

    @Test
    void aListenerThatFailsComesAfterTheRollback() {
        try (UnitOfWork work = store.begin()) {
            work.listen(new UnitListener() {
                @Override
                public void rolledBack(UnitOfWork unit) {
                    throw new IllegalStateException("listener");
                }
            });
            Cat a = new Cat("a");
            work.add(a);
            work.flush();
            assertThatThrownBy(work::rollback).hasMessage("listener");
            assertThat(a.id).isNull();
            work.discard();
            work.commit();
        }
        assertThat(names()).hasSize(3);
    }

    @Test
    void bothSidesAgreeOnARowThatComesLater() {
        unit(work -> {
            Cat third = cat(work, "third");
            assertThat(third.children).isEmpty();
            work.commit(); // SQLite lets nobody write while somebody reads
            Long child = store.call(other -> cat(other, "child").id);
            work.row(Cat.class, child).link(Cat::parent, third.id);
            work.commit();
            Cat read = work.require(Cat.class, child);
            assertThat(read.parent.get()).isSameAs(third);
            assertThat(third.children).containsExactly(read);
        });
    }

    @Test
    void bothSidesAgreeOnARowThatOthersHaveMoved() {
        unit(work -> {
            Cat third = cat(work, "third");
            assertThat(third.children).isEmpty();
            work.commit();
            store.run(other -> cat(other, "child").parent.set(cat(other, "third")));
            Cat read = cat(work, "child");
            assertThat(read.parent.get()).isSameAs(third);
            assertThat(third.children).containsExactly(read);
        });
    }

    @Test
    void aBathraExceptionIsNotHiddenByItsRollback() {
        assertThatThrownBy(() -> store.run(work -> {
                    work.add(new Cat("a".repeat(30)));
                    work.flush();
                }))
                .isInstanceOf(BathraException.class);
        assertThat(names()).hasSize(3);
    }
}
