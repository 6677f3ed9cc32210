package io.bathra.examples;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.UnitOfWork;
import io.bathra.examples.harbour.Berth;
import io.bathra.junit.WithStore;
import org.junit.jupiter.api.Test;

/** A test whose class is annotated. */
@WithStore(model = HarbourSource.class)
class BerthsTest {
    @Test
    void anEmptyHarbourHasNoBerths(UnitOfWork work) {
        assertThat(work.from(Berth.class).count()).isZero();
    }
}
