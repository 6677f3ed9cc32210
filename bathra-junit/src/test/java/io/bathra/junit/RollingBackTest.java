package io.bathra.junit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.error.UniqueViolation;
import io.bathra.junit.Harbour.PortCall;
import io.bathra.junit.Harbour.Vessel;
import io.bathra.query.Ask;
import java.util.List;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.jupiter.params.ParameterizedClass;
import org.junit.jupiter.params.provider.EnumSource;

/** Tests that happen in one transaction. */
@ParameterizedClass
@EnumSource
class RollingBackTest {
    @RegisterExtension
    final StoreExtension db;

    RollingBackTest(WithStore.Database database) {
        db = StoreExtension.of(Harbour.MODEL).on(database.database()).rollingBack();
    }

    @RepeatedTest(3)
    void nothingIsLeftOfATest() {
        Store store = db.store();
        store.run(work -> assertThat(work.from(Vessel.class).count()).isZero());
        store.run(work -> work.add(new PortCall(new Vessel("9000001", "Nordlicht"), 1)));
        assertThatThrownBy(() -> store.run(work -> {
                    work.add(new Vessel("9000002", "taken back"));
                    work.flush();
                    work.add(new Vessel("9000001", "there already"));
                }))
                .isInstanceOf(UniqueViolation.class);
        store.run(work -> {
            Vessel vessel = work.from(Vessel.class).one();
            assertThatThrownBy(() -> work.run(in -> {
                        vessel.name = "tried";
                        in.flush();
                        throw new IllegalStateException();
                    }))
                    .isInstanceOf(IllegalStateException.class);
            vessel.name = "Tern";
        });
        store.bulk(Vessel.class).insert(List.of(new Vessel("9000003", "in bulk")));
        assertThat(store.sql("select name from vessel order by name")
                        .as(String.class)
                        .list())
                .containsExactly("Tern", "in bulk");
        store.run(work -> work.from(Vessel.class)
                .where(Ask.the(Vessel::name).is("in bulk"))
                .delete());
        db.assertRows("""
                vessel
                  id       | imo     | name | revision
                  vessel#1 | 9000001 | Tern | 1
                """);
    }
}
