package io.bathra.spring;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.junit.Faults;
import io.bathra.spring.Boats.Boat;
import io.bathra.spring.Boats.Visit;
import io.bathra.spring.Office.Desk;
import io.bathra.spring.Office.Shelf;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.dao.CannotAcquireLockException;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.dao.EmptyResultDataAccessException;
import org.springframework.dao.IncorrectResultSizeDataAccessException;
import org.springframework.dao.InvalidDataAccessApiUsageException;
import org.springframework.dao.OptimisticLockingFailureException;
import org.springframework.dao.PessimisticLockingFailureException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.TransactionException;

/** What leaves a repository is an exception of Spring's, with ours as its cause. */
class ErrorsTest {
    private static ConfigurableApplicationContext office;

    private final Shelf shelf = office.getBean(Shelf.class);
    private final Faults faults = office.getBean(Faults.class);

    @BeforeAll
    static void open() {
        office = new SpringApplicationBuilder(FaultyOffice.class)
                .web(WebApplicationType.NONE)
                .properties("bathra.tables=make-missing", "spring.main.banner-mode=off")
                .run();
    }

    @AfterAll
    static void close() {
        office.close();
    }

    @BeforeEach
    void oneBoat() {
        office.getBean(Store.class).schema().empty("boats");
        shelf.work(work -> work.add(new Boat("Skua")));
    }

    @AfterEach
    void nothingIsLeftOver() {
        assertThat(faults.waiting()).isEmpty();
        assertThat(faults.open()).isZero();
        assertThat(office.getBean(OpenUnits.class).list()).isEmpty();
    }

    @Test
    void constraintsAndInvalidChanges() {
        assertThatThrownBy(() -> shelf.work(work -> work.add(new Boat("Skua"))))
                .isInstanceOf(DuplicateKeyException.class);
        assertThatThrownBy(() -> shelf.work(work -> work.add(new Boat("a name that is longer than twenty"))))
                .isInstanceOf(DataIntegrityViolationException.class)
                .hasMessageContaining("name = a name that is longer");
        assertThatThrownBy(() -> shelf.work(work -> work.add(new Visit())))
                .isInstanceOf(DataIntegrityViolationException.class)
                .hasMessageContaining("boat");
        faults.onStatement(sql -> sql.startsWith("insert")).uniqueViolation();
        assertThatThrownBy(() -> shelf.work(work -> {
                    work.add(new Boat("Tern"));
                    work.flush();
                }))
                .isInstanceOf(DuplicateKeyException.class);
    }

    @Test
    void othersWhoWorkAtTheSameTime() {
        faults.onStatement(sql -> sql.startsWith("update")).deadlock();
        assertThatThrownBy(() -> shelf.work(work -> work.from(Boat.class).one().count()))
                .isInstanceOf(PessimisticLockingFailureException.class);
        faults.onStatement(sql -> sql.startsWith("update")).serializationFailure();
        assertThatThrownBy(() -> shelf.work(work -> work.from(Boat.class).one().count()))
                .isInstanceOf(PessimisticLockingFailureException.class);
        faults.onStatement(sql -> sql.startsWith("update")).lockTimeout();
        assertThatThrownBy(() -> shelf.work(work -> work.from(Boat.class).one().count()))
                .isInstanceOf(CannotAcquireLockException.class);
        JdbcTemplate jdbc = office.getBean(JdbcTemplate.class);
        assertThatThrownBy(() -> shelf.work(work -> {
                    work.from(Boat.class).one().count();
                    jdbc.update("update boat set revision = 7");
                }))
                .isInstanceOf(OptimisticLockingFailureException.class);
    }

    @Test
    void howManyThereAre() {
        assertThatThrownBy(() -> shelf.work(work -> work.require(Boat.class, 99L)))
                .isInstanceOf(EmptyResultDataAccessException.class);
        assertThatThrownBy(() -> shelf.work(work ->
                        work.from(Boat.class).where(the(Boat::name).is("Tern")).one()))
                .isInstanceOf(EmptyResultDataAccessException.class);
        shelf.work(work -> work.add(new Boat("Tern")));
        assertThatThrownBy(() -> shelf.work(work -> work.from(Boat.class).one()))
                .isInstanceOf(IncorrectResultSizeDataAccessException.class)
                .isNotInstanceOf(EmptyResultDataAccessException.class);
    }

    @Test
    void connectionsAndWrongUse() {
        faults.onStatement(sql -> sql.startsWith("select")).connectionLost();
        assertThatThrownBy(() -> shelf.count("Skua")).isInstanceOf(DataAccessResourceFailureException.class);
        faults.onConnection().failsWith(() -> new java.sql.SQLTransientConnectionException("none is free"));
        assertThatThrownBy(() -> shelf.count("Skua"))
                .isInstanceOf(DataAccessResourceFailureException.class)
                .hasMessageContaining("no connection was free in time");
        assertThatThrownBy(() -> shelf.work(work -> {
                    work.add(new Boat("Tern"));
                    work.flush();
                    work.rollback();
                }))
                .as("what is Spring's to do")
                .isInstanceOf(InvalidDataAccessApiUsageException.class);
    }

    @Test
    void aReplyToCommitThatIsLostLeavesAUnitThatKnowsNothing() {
        Boat[] boat = new Boat[1];
        faults.onCommit().replyIsLost();
        assertThatThrownBy(() -> office.getBean(Desk.class).work(work -> {
                    boat[0] = new Boat("Tern");
                    work.add(boat[0]);
                }))
                .isInstanceOfAny(TransactionException.class, DataAccessResourceFailureException.class);
        assertThat(shelf.count("Tern")).isEqualTo(1);
    }
}
