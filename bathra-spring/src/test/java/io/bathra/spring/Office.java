package io.bathra.spring;

import static io.bathra.query.Ask.the;

import io.bathra.UnitOfWork;
import io.bathra.model.Model;
import io.bathra.spring.Boats.Boat;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.autoconfigure.EnableAutoConfiguration;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.annotation.Import;
import org.springframework.stereotype.Repository;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Isolation;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.event.TransactionPhase;
import org.springframework.transaction.event.TransactionalEventListener;

/** An application as people write them: services, a repository, listeners. */
@Configuration(proxyBeanMethods = false)
@EnableAutoConfiguration
@Import({Office.Desk.class, Office.Inner.class, Office.Shelf.class, Office.Ears.class})
class Office {
    @Bean
    Model model() {
        return Boats.MODEL;
    }

    /** Starts it on a database. */
    static ConfigurableApplicationContext open(String url, String... properties) {
        List<String> all = new ArrayList<>(
                List.of("spring.datasource.url=" + url, "bathra.tables=make-missing", "spring.main.banner-mode=off"));
        all.addAll(List.of(properties));
        return new SpringApplicationBuilder(Office.class)
                .web(WebApplicationType.NONE)
                .properties(all.toArray(String[]::new))
                .run();
    }

    /** What a test does in a transaction. */
    interface Task extends Consumer<UnitOfWork> {}

    /** Something has happened. */
    record Landed(Boat boat) {}

    /** Methods with each kind of transaction. */
    @Service
    static class Desk {
        private final Units units;
        private final ApplicationEventPublisher events;

        Desk(Units units, ApplicationEventPublisher events) {
            this.units = units;
            this.events = events;
        }

        @Transactional
        public void work(Task task) {
            task.accept(units.here());
        }

        @Transactional
        public void plain(Runnable task) {
            task.run();
        }

        @Transactional(readOnly = true)
        public void reading(Task task) {
            task.accept(units.here());
        }

        @Transactional(timeout = 1)
        public void inASecond(Task task) {
            task.accept(units.here());
        }

        @Transactional(isolation = Isolation.SERIALIZABLE)
        public void serializable(Task task) {
            task.accept(units.here());
        }

        @Transactional(noRollbackFor = IllegalStateException.class)
        public void whatever(Task task) {
            task.accept(units.here());
        }

        @Transactional
        public void land(String name) {
            Boat boat = new Boat(name);
            units.here().add(boat);
            events.publishEvent(new Landed(boat));
        }

        /** Nobody has asked for the unit when the listeners before the commit are called. */
        @Transactional
        public void announce(String name) {
            events.publishEvent(new Landed(new Boat(name)));
        }
    }

    /** What is called from within a transaction. */
    @Service
    static class Inner {
        private final Units units;

        Inner(Units units) {
            this.units = units;
        }

        @Transactional(propagation = Propagation.REQUIRES_NEW)
        public void apart(Task task) {
            task.accept(units.here());
        }

        @Transactional(propagation = Propagation.NESTED)
        public void nested(Task task) {
            task.accept(units.here());
        }

        @Transactional(propagation = Propagation.NOT_SUPPORTED)
        public void without(Runnable task) {
            task.run();
        }
    }

    /** Whose exceptions are Spring's. */
    @Repository
    static class Shelf {
        private final Units units;

        Shelf(Units units) {
            this.units = units;
        }

        @Transactional
        public void work(Task task) {
            task.accept(units.here());
        }

        public long count(String name) {
            return units.call(work ->
                    work.from(Boat.class).where(the(Boat::name).is(name)).count());
        }
    }

    /** Listeners around the commit. */
    static class Ears {
        private final Units units;
        Task beforeCommit = work -> {};
        Consumer<Boat> afterCommit = boat -> {};

        Ears(Units units) {
            this.units = units;
        }

        @TransactionalEventListener(phase = TransactionPhase.BEFORE_COMMIT)
        public void before(Landed landed) {
            beforeCommit.accept(units.here());
        }

        @TransactionalEventListener(phase = TransactionPhase.AFTER_COMMIT)
        public void after(Landed landed) {
            afterCommit.accept(landed.boat());
        }
    }
}
