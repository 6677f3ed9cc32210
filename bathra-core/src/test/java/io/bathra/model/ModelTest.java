package io.bathra.model;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.generated;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.name;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import io.bathra.attr.Attr;
import io.bathra.attr.Naming;
import io.bathra.error.BathraException;
import io.bathra.error.ModelException;
import io.bathra.harbour.Berth;
import io.bathra.harbour.Harbour;
import io.bathra.harbour.Vessel;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import java.lang.invoke.MethodHandles;
import java.util.List;
import java.util.Locale;
import java.util.UUID;
import org.junit.jupiter.api.Test;

/** What convention adds to a declaration, and what the check of a model finds. */
class ModelTest {
    @Test
    void conventionKnowsNamesTypesAndKeys() {
        ModelEntity<Vessel> vessel = Mapping.of(Harbour.MODEL).entity(Vessel.class);
        assertThat(vessel.table()).isEqualTo("vessel");
        assertThat(vessel.columns())
                .extracting(StoredColumn::name)
                .containsExactly("id", "imo", "name", "length_metres", "operator_id");
        assertThat(vessel.keyColumns().get(0).type().kind())
                .as("of the generic superclass")
                .isEqualTo(ColumnType.Kind.LONG);
        assertThat(vessel.keySource()).isEqualTo(KeySource.GENERATED);
        assertThat(Mapping.of(Harbour.MODEL).entity(Berth.class).drawnKeyOf(new Berth("N1")))
                .as("0 is no key")
                .isNull();
        assertThat(vessel.links()).singleElement().satisfies(link -> {
            assertThat(link.target().name()).isEqualTo("Operator");
            assertThat(link.otherSide()).hasToString("Operator.vessels");
        });
        assertThat(List.of("portCall", "PortCall", "IMONumber", "x", "aB2c").stream()
                        .map(Naming.SNAKE_CASE::inSql))
                .containsExactly("port_call", "port_call", "imo_number", "x", "a_b2c");
    }

    @Test
    void aModelDescribesItself() {
        assertThat(Harbour.MODEL.describe()).startsWith("""
                model harbour

                Operator in operator
                  key      id drawn by the database
                  columns  name text(80)
                  many     vessels = every Vessel whose operator this is

                Vessel in vessel
                  key      id drawn by the database
                  columns  imo text(7), name text(80), lengthMetres decimal(6, 2)?
                  one      operator -> Operator or none
                  many     calls = every PortCall whose vessel this is
                  unique   imo
                """);
    }

    @Test
    void aNamingFunctionServesSchemasThatExist() {
        Model model = Model.of(
                "shouting",
                name -> "T_" + name.toUpperCase(Locale.ROOT),
                Harbour.OPERATOR,
                Harbour.VESSEL.table("ships"),
                Harbour.BERTH,
                Harbour.PORT_CALL,
                Harbour.MOVEMENT);
        assertThat(model.entities()).extracting(EntityOutline::table).startsWith("T_OPERATOR", "ships", "T_BERTH");
        assertThat(model.entity(Vessel.class).columns())
                .extracting(EntityOutline.Column::name)
                .containsExactly("T_ID", "T_IMO", "T_NAME", "T_LENGTHMETRES", "T_OPERATORID");
        assertThatThrownBy(() -> Model.of("long", name -> name + "_".repeat(60), Harbour.OPERATOR, Harbour.VESSEL))
                .hasMessageContaining("Operator: its table 'Operator____")
                .hasMessageContaining("is longer than 63 bytes")
                .hasMessageContaining("Vessel.name: has the column 'name____");
    }

    // ---- faults, one class each

    static class NoKey {
        private String name;
    }

    static class OddKey {
        private double id;
    }

    static class Uuid {
        private UUID id;

        UUID id() {
            return id;
        }
    }

    static class Fields {
        private Long id;
        private Thread thread;
        private final int fixed = 1;
        private String one;
        private int number;
        private Link<Uuid> open = Link.empty();
        private final Link<NotThere> away = Link.empty();
        private final Links<Uuid> many = Links.empty();

        Long id() {
            return id;
        }

        String one() {
            return one;
        }

        int number() {
            return number;
        }

        Link<Uuid> open() {
            return open;
        }

        String computed() {
            return one + number;
        }
    }

    static class NotThere {
        private Long id;
    }

    static class Failing {
        private Long id;

        Failing() {
            throw new IllegalStateException("no empty ones");
        }
    }

    record Value(Long id) {}

    @Test
    void allFaultsAreListedAtOnceWithTheirPlaceAndMend() {
        ModelException thrown = catchThrowableOfType(
                ModelException.class,
                () -> Model.of(
                        "faulty",
                        Entity.of(NoKey.class, NoKey::new),
                        Entity.of(OddKey.class, OddKey::new),
                        Entity.of(Uuid.class, Uuid::new).key(Uuid::id, generated()),
                        Entity.of(Uuid.class, Uuid::new),
                        Entity.of(Value.class, () -> new Value(1L)).table("uuid"),
                        Entity.of(Fields.class, Fields::new)
                                .column(Fields::one, name("Number"), digits(3, 1))
                                .column(Fields::number, length(3))
                                .column(Fields::number)
                                .column(Fields::open)
                                .column(Fields::computed)));
        assertThat(thrown.faults())
                .containsExactlyInAnyOrder(
                        "Uuid: declared twice in this model; name it once in Model.of",
                        "Value: its table 'uuid' is that of Uuid too; give one of them another name with .table(...)",
                        "NoKey: has no key; declare one with .key(NoKey::...), or add a field `Long id`",
                        "OddKey.id: cannot be a key, since it is a double; take a whole number, a String, an enum, a"
                                + " LocalDate, a UUID, or a record of these",
                        "Uuid.id: is a UUID, which the database cannot draw; make it a Long, or declare it assigned()",
                        "Value: is not a class with fields that can be written; an entity is a plain class",
                        "Fields.fixed: is final, but is written when a row is read; remove `final`, or make it transient",
                        "Fields.open: holds an association, so it must be final: `private final Link<...> open ="
                                + " Link.empty();`",
                        "Fields.number: is declared twice; put all its options into one call",
                        "Fields.open: holds an association, so declare it with .link(...)",
                        "Fields.computed(): is no accessor of a persistent field; name the field 'computed' like it, or"
                                + " declare the accessor of a field: [id, thread, fixed, one, number, open, away, many]",
                        "Fields.many: needs its other end, or a pivot; declare .links(Fields::many, Uuid::...)",
                        "Fields.thread: is a Thread, for which there is no column type; make it a number, text, enum, date"
                                + " or time, UUID or byte[], a record, declare it inline or parts, give a Converter, declare it"
                                + " json(), or mark the field transient",
                        "Fields.one: is a String, so digits(...) has no meaning; only a BigDecimal has digits",
                        "Fields.number: is a int, so length(3) has no meaning; only texts have a length",
                        "Fields.number: has the column 'number', which 'one' has too; give one of them another with"
                                + " name(...)",
                        "Fields.away: leads to NotThere, which is not in this model; name its declaration in Model.of");
        assertThat(thrown).hasMessageStartingWith("model 'faulty' has 17 faults:\n  - Uuid: declared twice");
    }

    @Test
    void aConstructorThatFailsIsFoundWhenTheModelIsMade() {
        assertThatThrownBy(() -> Model.of("failing", Entity.of(Failing.class, Failing::new)))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("Failing: its constructor cannot make an empty object")
                .hasMessageContaining("no empty ones");
        assertThatThrownBy(() -> Model.of("empty")).hasMessageContaining("it has no entity");
    }

    @Test
    void aLookupOpensWhatTheModuleDoesNot() {
        Model model = Model.of("lookup", MethodHandles.lookup(), Entity.of(NotThere.class, NotThere::new));
        assertThat(Mapping.of(model).entity(NotThere.class).drawnKeyOf(new NotThere()))
                .isNull();
        assertThatThrownBy(() ->
                        Model.of("lookup", MethodHandles.publicLookup(), Entity.of(NotThere.class, NotThere::new)))
                .hasMessageContaining("NotThere.id: cannot be reached: the lookup given to Model.of")
                .hasMessageContaining("make it in the module of that class");
    }

    @Test
    void anAttributeIsAPlainMethodReference() {
        Vessel particular = new Vessel("9000001", "one");
        Entity<Vessel> entity = Harbour.VESSEL;
        Attr<Vessel, String> lambda = vessel -> vessel.imo();
        Attr<Vessel, String> bound = vessel -> particular.imo();
        assertThatThrownBy(() -> entity.column(lambda))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("is not a plain method reference")
                .hasMessageContaining("Write Vessel::name, not v -> v.name()");
        assertThatThrownBy(() -> entity.column(bound)).hasMessageContaining("a particular object is captured");
    }

    @Test
    void whatIsNotInTheModelIsNamed() {
        assertThatThrownBy(() -> Harbour.MODEL.entity(Thread.class))
                .hasMessage(
                        "java.lang.Thread is not in the model 'harbour', which has [Operator, Vessel, Berth, PortCall,"
                                + " Movement]; declare it with Entity.of and name it in Model.of");
        assertThatThrownBy(() -> Declare.length(0)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> digits(2, 3)).hasMessageContaining("digits(2, 3)");
    }
}
