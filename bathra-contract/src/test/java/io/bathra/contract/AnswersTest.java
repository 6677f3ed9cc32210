package io.bathra.contract;

import static io.bathra.query.Ask.any;
import static io.bathra.query.Ask.count;
import static io.bathra.query.Ask.element;
import static io.bathra.query.Ask.longSum;
import static io.bathra.query.Ask.matching;
import static io.bathra.query.Ask.max;
import static io.bathra.query.Ask.no;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.parameter;
import static io.bathra.query.Ask.parameters;
import static io.bathra.query.Ask.sum;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Standing;
import io.bathra.UnitOfWork;
import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.answer.Pending;
import io.bathra.answer.QueryText;
import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.NotExactlyOneException;
import io.bathra.error.UnreadLinkException;
import io.bathra.query.Beside;
import io.bathra.query.Excerpt;
import io.bathra.query.Query;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.TraceLine;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Every kind of answer that a query gives, and how fresh it is. */
@OnEachDatabase
class AnswersTest extends BoatContract {
    record Line(String code, String owner) {}

    record Named(Long id, String name, Long ownerId) {}

    record Wrong(Long id, String colour) {}

    record Tally(Integer seats, long boats) {}

    AnswersTest(TestDatabase database) {
        super(database);
    }

    private void seat(Integer... seats) {
        store.run(work -> {
            for (int i = 0; i < seats.length; i++) {
                boat(work, i + 1).seats = seats[i];
            }
        });
    }

    @Test
    void rowsBecomeRecords() {
        store.run(work -> {
            Query<Boat> boats = work.from(Boat.class).orderBy(the(Boat::code).descending());
            assertThat(boats.as(Line::new, the(Boat::code), text(Boat::owner, Owner::name))
                            .list())
                    .containsExactly(new Line("C", "Aline"), new Line("B", "Aline"), new Line("A", "Aline"));
            assertThat(boats.limit(1).as(Named.class).list())
                    .containsExactly(new Named(key(3), "boat C", keys.of("owner", 1)));
            assertThat(boats.as(the(Boat::code)).first()).hasValue("C");
            assertThat(boats.as(text(Boat::owner, Owner::name)).distinct().toString())
                    .isEqualTo("select distinct owner.name from Boat order by code desc");
            assertThatThrownBy(() -> boats.as(Wrong.class))
                    .hasMessageContaining("Wrong.colour names no single column of Boat");
            assertThatThrownBy(() ->
                            boats.as(text(Boat::owner, Owner::name)).distinct().list())
                    .hasMessageContaining("distinct and ordered by 'code', which is not in it");
            assertThatThrownBy(() -> boats.as(the(Boat::code)).one())
                    .isInstanceOf(NotExactlyOneException.class)
                    .hasMessageContaining("3");
            assertThatThrownBy(() ->
                            boats.as(Tally::new, the(Boat::seats), count()).list())
                    .hasMessageContaining("'seats' may differ from row to row of a group");
        });
    }

    @Test
    void aMissingValueIsNoPrimitive() {
        store.run(work -> assertThatThrownBy(() -> work.from(Boat.class)
                        .groupBy(number(Boat::seats).orElse(1))
                        .as(Tally::new, number(Boat::seats).orElse(1), longSum(number(Boat::seats)))
                        .list())
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("a row has no value for [sum(seats)]"));
    }

    @Test
    void groupsOfRows() {
        seat(4, 6, 4);
        store.run(work -> {
            assertThat(work.from(Boat.class)
                            .groupBy(the(Boat::seats))
                            .orderBy(count().descending())
                            .as(Tally::new, the(Boat::seats), count())
                            .list())
                    .containsExactly(new Tally(4, 2), new Tally(6, 1));
            assertThat(work.from(Boat.class)
                            .groupBy(the(Boat::seats))
                            .having(count().is(1L))
                            .as(the(Boat::seats))
                            .list())
                    .containsExactly(6);
            assertThat(work.from(Boat.class).as(sum(number(Boat::seats))).one()).isEqualTo(14);
            assertThat(work.from(Boat.class)
                            .where(the(Boat::code).is("none"))
                            .as(max(the(Boat::name)))
                            .list())
                    .containsExactly((String) null);
            boat(work, 1).seats = Integer.MAX_VALUE;
            assertThatThrownBy(() ->
                            work.from(Boat.class).as(sum(number(Boat::seats))).one())
                    .isInstanceOf(BathraException.class);
            assertThatThrownBy(() -> work.from(Boat.class).where(count().above(1L)))
                    .hasMessageContaining("groupBy(...).having(...)");
            work.rollback();
            work.discard();
        });
    }

    @Test
    void whatHoldsForElements() {
        store.run(work -> {
            boat(work, 2).crew.add("Jan");
            boat(work, 3).friends.clear();
            assertThat(work.from(Boat.class)
                            .where(any(Boat::crew, element(String.class).is("Jan")))
                            .keys())
                    .containsExactly(key(2));
            assertThat(work.from(Boat.class).where(no(Boat::friends)).keys()).containsExactly(key(3));
            assertThat(work.from(Owner.class)
                            .where(any(Owner::boats, the(Boat::code).is("B")))
                            .as(the(Owner::name))
                            .list())
                    .containsExactly("Aline");
            assertThat(work.from(Owner.class)
                            .where(any(
                                    Owner::boats,
                                    any(Boat::friends, the(Owner::name).is("Aline"))))
                            .count())
                    .isEqualTo(1);
            assertThat(work.from(Boat.class)
                            .where(any(
                                    Boat::owner, Owner::boats, the(Boat::code).is("B")))
                            .count())
                    .isEqualTo(3);
            work.rollback();
            work.discard();
        });
    }

    @Test
    void twoEntitiesSideBySide() {
        store.run(work -> {
            Boat first = boat(work, 1);
            List<Beside.Row<Boat, Owner>> rows = work.from(Boat.class)
                    .where(the(Boat::code).in("A", "B"))
                    .orderBy(the(Boat::code).descending())
                    .beside(Owner.class, matching(the(Boat::owner, Owner::id), the(Owner::id)))
                    .whereRight(the(Owner::name).is("Aline"))
                    .list();
            assertThat(rows).extracting(row -> row.left().code).containsExactly("B", "A");
            assertThat(rows.get(1).left()).isSameAs(first);
            assertThat(rows.get(0).right()).isSameAs(rows.get(1).right());
            assertThat(rows.get(0).left().crew).containsExactly("Piet", "Klaas");
            assertThat(work.from(Boat.class)
                            .beside(Boat.class, matching(the(Boat::owner, Owner::id), the(Boat::owner, Owner::id)))
                            .count())
                    .isEqualTo(9);
            assertThatThrownBy(() -> work.from(Boat.class).beside(Owner.class))
                    .hasMessageContaining("give it matching(...)");
        });
    }

    @Test
    void cleanObjectsTakeWhatWasReadAndDirtyOnesKeepTheirs() {
        try (UnitOfWork work = store.begin()) {
            Boat clean = read(work, 1);
            Boat dirty = read(work, 2);
            store.run(other -> other.sql("update boat set name = 'by others', revision = revision + 1")
                    .execute());
            dirty.seats = 2;
            assertThatThrownBy(() -> work.from(Boat.class).list())
                    .as("the change is flushed first")
                    .isInstanceOf(ConcurrentChangeException.class);
            work.discard();
            dirty.name = "mine";
            assertThat(work.findAll(Boat.class, List.of(key(3), key(1), 99L)))
                    .hasSize(2)
                    .element(1)
                    .isSameAs(clean);
            assertThat(clean.name).as("it was here").isEqualTo("boat A");
            work.discard();
            assertThat(work.from(Boat.class)
                            .orderBy(the(Boat::code).ascending())
                            .list())
                    .startsWith(clean, dirty);
            assertThat(clean.name).isEqualTo("by others");
            assertThat(dirty.name).isEqualTo("by others");
            Boat nobodys = work.from(Boat.class)
                    .where(the(Boat::code).is("A"))
                    .untracked()
                    .alongWith(Boat::owner)
                    .one();
            assertThat(nobodys).isNotSameAs(clean);
            assertThat(nobodys.owner.get().name).isEqualTo("Aline");
            assertThat(work.standing(nobodys)).isEqualTo(Standing.UNTRACKED);
            assertThatThrownBy(() -> nobodys.friends.size()).isInstanceOf(UnreadLinkException.class);
            assertThat(work.tracked()).containsEntry("Boat", 3).doesNotContainKey("Owner");
            work.rollback();
        }
    }

    @Test
    void pagesStayInStepWhileRowsAreAdded() {
        try (UnitOfWork work = store.begin()) {
            Query<Boat> boats = work.from(Boat.class).orderBy(text(Boat::name).descending());
            Page<Boat> first = boats.page(2, null);
            assertThat(first.items()).extracting(Boat::code).containsExactly("C", "B");
            Boat before = new Boat("D");
            work.add(before);
            Page<Boat> second = boats.page(2, first.mark());
            assertThat(second.items()).extracting(Boat::code).containsExactly("A");
            assertThat(second.next()).isEmpty();
            assertThatThrownBy(() -> work.from(Boat.class).page(2, first.mark()))
                    .hasMessageContaining("the mark was made for pages ordered by 'name desc'");
            assertThatThrownBy(() -> boats.page(0, null)).isInstanceOf(IllegalArgumentException.class);
            assertThatThrownBy(() -> boats.limit(3).page(2, null)).hasMessageContaining("limit");
            assertThatThrownBy(() -> Mark.parse("no mark")).hasMessage("'no mark' is no mark of a page");
            String forged = new Mark("name desc", List.of("x'; drop table boat; --", "no number")).toString();
            assertThatThrownBy(() -> boats.page(2, Mark.parse(forged))).hasMessageContaining("'no number'");
        }
    }

    @Test
    void streamsCloseThemselves() {
        try (UnitOfWork work = store.begin()) {
            assertThat(work.from(Owner.class).stream().map(owner -> owner.name)).containsExactly("Aline");
            assertThat(work.from(Boat.class).orderBy(the(Boat::code).descending()).limit(2).offset(1).stream()
                            .map(boat -> boat.code + boat.crew))
                    .containsExactly("B[Piet, Klaas]", "A[Piet, Klaas]");
            assertThat(work.from(Boat.class).alongWith(Boat::friends).stream().map(boat -> boat.friends.size()))
                    .containsExactly(1, 1, 1);
            try (Stream<String> codes = work.from(Boat.class).as(the(Boat::code)).stream()) {
                assertThat(codes.findFirst()).isPresent();
            }
            assertThat(work.from(Boat.class).as(the(Boat::code)).stream()).hasSize(3);
            assertThat(work.tracked()).isEmpty();
        }
    }

    @Test
    void whatWouldBeExecutedIsShown() {
        try (UnitOfWork work = store.begin()) {
            Query<Boat> query = work.from(Boat.class)
                    .where(
                            the(Boat::name).is("boat A"),
                            number(Boat::seats).plus(1).above(4));
            QueryText text = query.sql();
            assertThat(text.sql()).contains("t.name = ?").contains("(t.seats + ?) > ?");
            assertThat(text.parameters()).containsExactly("boat A", 1, 4);
            assertThat(text.toString()).endsWith("with [boat A, 1, 4]");
            assertThat(work.trace().statements()).isEmpty();
            assertThat(query.explain()).isNotBlank();
            assertThat(query.as(the(Boat::code)).explain()).isNotBlank();
            assertThat(query.as(the(Boat::code)).sql().sql()).startsWith("select t.code as v1 from boat t where");
        }
    }

    @Test
    void parametersAreChecked() {
        try (UnitOfWork work = store.begin()) {
            Query<Boat> query = work.from(Boat.class).where(the(Boat::code).is(parameter("code", String.class)));
            assertThat(query).hasToString("from Boat where code = :code");
            assertThat(query.with("code", "B").one().id).isEqualTo(key(2));
            assertThatThrownBy(query::list).hasMessageContaining("the parameter :code has no value");
            assertThatThrownBy(() -> query.with("code", 7).list())
                    .hasMessageContaining("is a String, but was given a Integer");
            assertThatThrownBy(() -> query.with("cod", "B").list())
                    .hasMessageContaining("':cod', but the query has the parameters [code]");
            Query<Boat> several = work.from(Boat.class).where(the(Boat::code).in(parameters("codes", String.class)));
            assertThat(several.with("codes", List.of("A", "C")).list()).hasSize(2);
            assertThat(several.with("codes", Set.of()).list()).isEmpty();
            assertThat(several.with("codes", List.of("B")).count()).isEqualTo(1);
            assertThatThrownBy(() -> several.with("codes", "B").list())
                    .hasMessageContaining("stands for several values, but was given one");
            assertThatThrownBy(() -> several.with("codes", List.of("B", 7)).list())
                    .hasMessageContaining("is a String, but was given a Integer");
        }
    }

    @Test
    void anExcerptOfPairs() {
        store.run(work -> {
            boat(work, 1).friends.add(new Owner("Bea"));
            boat(work, 2).friends.clear();
        });
        try (UnitOfWork work = store.begin()) {
            List<Excerpt.Of<Boat, Owner>> rows = work.from(Boat.class)
                    .orderBy(the(Boat::code).ascending())
                    .excerpt(Boat::friends, the(Owner::name).is("Bea"))
                    .list();
            assertThat(rows).extracting(row -> row.elements().size()).containsExactly(1, 0, 0);
            assertThat(rows.get(0).owner().friends)
                    .hasSize(2)
                    .contains(rows.get(0).elements().get(0));
            assertThat(work.from(Boat.class).excerpt(Boat::friends).list())
                    .extracting(row -> row.elements().size())
                    .containsExactlyInAnyOrder(2, 0, 1);
        }
    }

    @Test
    void pendingPairsAreSeen() {
        try (UnitOfWork work = store.begin()) {
            Owner bea = new Owner("Bea");
            boat(work, 1).friends.add(bea);
            boat(work, 2).friends.clear();
            boat(work, 3).crew.clear();
            Query<Boat> boats = work.from(Boat.class).pending(Pending.OVERLAY);
            assertThat(boats.where(any(Boat::friends, the(Owner::name).is("Bea")))
                            .list())
                    .containsExactly(boat(work, 1));
            assertThat(boats.where(no(Boat::friends)).list()).containsExactly(boat(work, 2));
            assertThat(boats.where(no(Boat::crew)).list()).containsExactly(boat(work, 3));
            assertThat(boats.where(any(Boat::friends)).count()).isEqualTo(2);
            work.remove(boat(work, 1));
            assertThat(boats.keys()).containsExactly(key(2), key(3));
            assertThat(work.from(Owner.class)
                            .pending(Pending.OVERLAY)
                            .where(no(Owner::boats, the(Boat::code).is("A")))
                            .list())
                    .hasSize(1);
            assertThatThrownBy(() -> boats.untracked().list())
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("which untracked() cannot show as themselves");
        }
    }

    /** What comes from outside is bound, whatever it looks like. */
    @Test
    void injectionsAreOnlyTexts() {
        List<String> evil = new ArrayList<>(List.of(
                "'; drop table boat; --",
                "' or '1' = '1",
                "\\' or 1=1 --",
                "%' or '%'='",
                "\"; delete from boat",
                "`",
                "??",
                ":x"));
        store.run(work -> {
            for (String attack : evil) {
                Boat boat = boat(work, 1);
                boat.name = attack;
                for (Query<Boat> query : List.of(
                        work.from(Boat.class).where(the(Boat::name).is(attack)),
                        work.from(Boat.class).where(text(Boat::name).startsWith(attack)),
                        work.from(Boat.class).where(text(Boat::name).contains(attack)),
                        work.from(Boat.class).where(text(Boat::name).like(attack.replace("%", "!%"))),
                        work.from(Boat.class)
                                .where(text(Boat::name).ignoringCase().is(attack)),
                        work.from(Boat.class).where(the(Boat::name).in(attack, attack)),
                        work.from(Boat.class)
                                .where(text(Boat::name).orElse(attack).is(attack)),
                        work.from(Boat.class)
                                .where(the(Boat::name).is(parameter("name", String.class)))
                                .with("name", attack))) {
                    assertThat(query.list()).as("%s for %s", query, attack).containsExactly(boat);
                }
                Mark mark = Objects.requireNonNull(work.from(Boat.class)
                        .orderBy(the(Boat::name).ascending())
                        .page(1, null)
                        .mark());
                assertThat(work.from(Boat.class)
                                .orderBy(the(Boat::name).ascending())
                                .page(5, Mark.parse(mark.toString()))
                                .items())
                        .hasSize(2);
            }
            assertThat(work.from(Boat.class).count()).isEqualTo(3);
        });
    }

    @Test
    void onlyOneStatementIsNeededForMany() {
        try (UnitOfWork work = store.begin()) {
            boat(work, 1);
            assertThat(work.findAll(Boat.class, List.of(key(1), key(2), key(3))))
                    .hasSize(3);
            assertThat(work.findAll(Boat.class, List.of(key(1), key(2)))).hasSize(2);
            assertThat(work.trace().statements().stream()
                            .map(TraceLine::cause)
                            .filter(cause -> cause.startsWith("find 3")))
                    .hasSize(1);
            assertThatThrownBy(() -> work.findAll(Boat.class, List.of("one")))
                    .isInstanceOf(IllegalArgumentException.class);
        }
    }
}
