package io.bathra.query;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.StringWriter;
import java.net.URI;
import java.nio.file.Path;
import java.util.List;
import javax.tools.Diagnostic;
import javax.tools.DiagnosticCollector;
import javax.tools.JavaCompiler;
import javax.tools.JavaFileObject;
import javax.tools.SimpleJavaFileObject;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Declarations and conditions that must compile without a warning, and others that must not compile at all. */
class CompilerTest {
    private static final String FRAME = """
            package io.bathra.harbour;
            import static io.bathra.model.Declare.*;
            import static io.bathra.query.Ask.*;
            import io.bathra.model.Entity;
            import io.bathra.query.*;
            import java.math.BigDecimal;
            import java.time.*;
            import java.util.*;
            final class Sample {
                static final LocalDateTime NOON = LocalDateTime.MIN;
                static <T extends Entry<Long>> Condition<T> stored() { return the(T::id).isNotNull(); }
                record Arrival(LocalDateTime eta, String vessel) {}
                record Tally(String vessel, long calls) {}
                static Object sample(Query<PortCall> calls, Query<Vessel> vessels) {
                    return %s;
                }
            }
            """;

    @TempDir
    private Path target;

    @ParameterizedTest
    @ValueSource(
            strings = {
                "the(PortCall::eta).is(NOON)",
                "the(PortCall::eta).between(NOON, NOON.plusDays(1))",
                "the(PortCall.class, PortCall::status).is(CallStatus.EXPECTED)",
                "the(PortCall.class, PortCall::status).in(CallStatus.EXPECTED, CallStatus.DEPARTED)",
                "the(Vessel::getLengthMetres).above(BigDecimal.TEN)",
                "the(Berth::getId).is(7)",
                "the(Vessel::id).is(7L)",
                "link(PortCall::vessel).is(new Vessel())",
                "calls.where(link(PortCall::vessel, Vessel::operator).in(List.of()), link(PortCall.class, PortCall::berth).isNull())",
                "number(Vessel.class, Vessel::getLengthMetres).above(BigDecimal.ONE)",
                "calls.where(any(PortCall.class, PortCall::movements, the(Movement::id).is(1L)))",
                "dateTime(PortCall.class, PortCall::eta).year().is(2026)",
                "the(PortCall::vessel, Vessel::id).isNull()",
                "the(PortCall::vessel, Vessel::imo).in(List.of())",
                "the(PortCall::vessel, Vessel::name).is(\"overloaded, but the path says whose\")",
                "text(PortCall::vessel, Vessel::operator, Operator::name).startsWith(\"N\")",
                "text(Vessel.class, Vessel::name).contains(\"x\").toString()",
                "calls.where(the(PortCall::eta).above(NOON), anyOf(the(PortCall::id).is(1L), not(the(PortCall::id).is(2L))))",
                "calls.where(Sample.<PortCall>stored())",
                "calls.as(Arrival::new, the(PortCall::eta), text(PortCall::vessel, Vessel::name))",
                "calls.groupBy(text(PortCall::vessel, Vessel::name)).having(count().above(2L)).as(Tally::new, text(PortCall::vessel, Vessel::name), count())",
                "calls.where(dateTime(PortCall::eta).year().is(2026), any(PortCall::movements, the(Movement::id).is(1L)))",
                "calls.where(the(PortCall::eta).above(parameter(\"since\", LocalDateTime.class))).with(\"since\", NOON)",
                "vessels.where(number(Vessel::getLengthMetres).times(BigDecimal.TEN).above(BigDecimal.ONE))",
                "vessels.where(text(Vessel::imo).length().above(6), text(Vessel::imo).ignoringCase().is(\"x\"))",
                "vessels.as(max(the(Vessel::imo)))",
                "vessels.beside(PortCall.class, matching(the(Vessel::id), the(PortCall::vessel, Vessel::id)))",
                "vessels.where(stored(), stored())",
                "calls.orderBy(the(PortCall::eta).ascending(), text(PortCall::vessel, Vessel::name).descending())",
                "calls.alongWith(PortCall::vessel, PortCall::movements)",
                "Entity.of(Vessel.class, Vessel::new).key(Vessel::id, generated(), name(\"nr\")).column(Vessel::name, required(), length(9))",
                "Entity.of(Vessel.class, Vessel::new).links(Vessel::calls, PortCall::vessel).link(Vessel::operator, required(), unique())",
                "Entity.of(Berth.class, Berth::new).links(Berth::parts, Berth::within).column(Berth::code, unique(), name(\"c\"))",
            })
    void right(String expression) {
        assertThat(compile(expression)).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "the(PortCall::eta).is(\"2026-04-01\")",
                "the(PortCall::eta).is(LocalDate.EPOCH)",
                "the(PortCall.class, PortCall::status).is(\"EXPECTED\")",
                "the(Vessel::id).is(7)",
                "the(Berth::getId).is(7L)",
                "the(Vessel::getLengthMetres).above(10)",
                "the(PortCall::vessel).is(new Vessel())",
                "link(PortCall::vessel).is(new Berth())",
                "link(PortCall::eta).isNull()",
                "calls.where(link(Vessel::operator).isNull())",
                "the(PortCall::movements).isNull()",
                "the(PortCall::vessel, Berth::code).is(\"N1\")",
                "the(PortCall::movements, Movement::kind).is(\"shift\")",
                "text(PortCall::eta).startsWith(\"2026\")",
                "the(PortCall::eta).startsWith(\"2026\")",
                "calls.where(the(Vessel::imo).is(\"9\"))",
                "calls.orderBy(the(Vessel::imo).ascending())",
                "calls.as(Arrival::new, text(PortCall::vessel, Vessel::name), the(PortCall::eta))",
                "calls.groupBy(the(Vessel::imo))",
                "calls.where(dateTime(PortCall::eta).year().is(\"2026\"))",
                "calls.where(date(PortCall::eta).year().is(2026))",
                "calls.where(any(PortCall::movements, the(Vessel::imo).is(\"9\")))",
                "calls.where(any(PortCall::vessel))",
                "calls.where(number(PortCall::eta).plus(1).above(2))",
                "vessels.where(number(Vessel::getLengthMetres).times(10).above(BigDecimal.ONE))",
                "vessels.as(sum(text(Vessel::imo)))",
                "vessels.where(the(Vessel::id).above(parameter(\"id\", String.class)))",
                "vessels.beside(PortCall.class, matching(the(Vessel::imo), the(PortCall::vessel, Vessel::id)))",
                "calls.alongWith(PortCall::eta)",
                "calls.alongWith(Vessel::operator)",
                "vessels.where(anyOf(the(Vessel::imo).is(\"9\"), the(PortCall::eta).is(NOON)))",
                "Entity.of(Vessel.class, Vessel::new).column(PortCall::eta)",
                "Entity.of(Vessel.class, Vessel::new).links(Vessel::calls, PortCall::berth)",
                "Entity.of(Vessel.class, Vessel::new).links(Vessel::calls, Movement::call)",
                "Entity.of(Vessel.class, Vessel::new).links(Vessel::operator, PortCall::vessel)",
                "Entity.of(Vessel.class, Vessel::new).link(Vessel::imo)",
                "Entity.of(Vessel.class, Vessel::new).link(Vessel::operator, length(3))",
                "Entity.of(Vessel.class, Vessel::new).key(Vessel::id, required())",
                "Entity.of(Vessel.class, Berth::new)",
            })
    void wrong(String expression) {
        long line = FRAME.substring(0, FRAME.indexOf("%s")).lines().count();
        assertThat(compile(expression))
                .filteredOn(diagnostic -> diagnostic.getKind() == Diagnostic.Kind.ERROR)
                .isNotEmpty()
                .allSatisfy(error -> assertThat(error.getLineNumber()).isEqualTo(line));
    }

    private List<Diagnostic<? extends JavaFileObject>> compile(String expression) {
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        DiagnosticCollector<JavaFileObject> diagnostics = new DiagnosticCollector<>();
        String classPath = System.getProperty("surefire.test.class.path", System.getProperty("java.class.path"));
        List<String> options = List.of("-Xlint:all", "-proc:none", "-classpath", classPath, "-d", target.toString());
        compiler.getTask(new StringWriter(), null, diagnostics, options, null, List.of(new Source(expression)))
                .call();
        return diagnostics.getDiagnostics();
    }

    private static final class Source extends SimpleJavaFileObject {
        private final String expression;

        Source(String expression) {
            super(URI.create("string:///io/bathra/harbour/Sample.java"), Kind.SOURCE);
            this.expression = expression;
        }

        @Override
        public CharSequence getCharContent(boolean ignoreEncodingErrors) {
            return FRAME.formatted(expression);
        }
    }
}
