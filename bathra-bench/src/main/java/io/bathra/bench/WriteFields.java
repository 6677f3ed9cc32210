package io.bathra.bench;

import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodHandles.Lookup;
import java.lang.invoke.MethodType;
import java.lang.reflect.Field;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OperationsPerInvocation;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;

/**
 * Ten fields of a new object, written by method handles, one for each field, or by one class for all that knows the
 * fields: what generated code could reach at most.
 */
@State(Scope.Thread)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.NANOSECONDS)
public class WriteFields {
    private static final int OBJECTS = 1_000;
    private static final MethodType SETTER = MethodType.methodType(void.class, Object.class, Object.class);
    private static final String[] FIELDS = {
        "id", "serial", "note", "kilos", "volume", "sealed", "kind", "price", "packed", "seen"
    };

    /** What one class for all fields has to do. */
    interface Writer {
        void write(Object object, Object[] row);
    }

    private static final Writer KNOWING = (object, row) -> {
        Cargo cargo = (Cargo) object;
        cargo.id = (Long) row[0];
        cargo.serial = (String) row[1];
        cargo.note = (String) row[2];
        cargo.kilos = (Integer) row[3];
        cargo.volume = (Double) row[4];
        cargo.sealed = (Boolean) row[5];
        cargo.kind = (Cargo.Kind) row[6];
        cargo.price = (BigDecimal) row[7];
        cargo.packed = (LocalDate) row[8];
        cargo.seen = (LocalDateTime) row[9];
    };

    private MethodHandle all;
    private final MethodHandle[] setters = new MethodHandle[FIELDS.length];
    private final Object[][] rows = new Object[OBJECTS][];

    @Setup
    public void open() throws ReflectiveOperationException {
        Lookup lookup = MethodHandles.lookup();
        for (int i = 0; i < FIELDS.length; i++) {
            Field field = Cargo.class.getDeclaredField(FIELDS[i]);
            setters[i] = lookup.unreflectSetter(field).asType(SETTER);
        }
        all = MethodHandles.empty(MethodType.methodType(void.class, Object.class, Object[].class));
        for (int i = FIELDS.length - 1; i >= 0; i--) {
            MethodHandle element =
                    MethodHandles.insertArguments(MethodHandles.arrayElementGetter(Object[].class), 1, i);
            all = MethodHandles.foldArguments(all, MethodHandles.filterArguments(setters[i], 1, element));
        }
        for (int i = 0; i < OBJECTS; i++) {
            Cargo cargo = new Cargo(i);
            rows[i] = new Object[] {
                (long) i,
                cargo.serial,
                cargo.note,
                cargo.kilos,
                cargo.volume,
                cargo.sealed,
                cargo.kind,
                cargo.price,
                cargo.packed,
                cargo.seen
            };
        }
    }

    @Benchmark
    @OperationsPerInvocation(OBJECTS)
    public Object[] byHandles() throws Throwable {
        Object[] made = new Object[OBJECTS];
        for (int i = 0; i < OBJECTS; i++) {
            Object cargo = new Cargo();
            for (int f = 0; f < setters.length; f++) {
                setters[f].invokeExact(cargo, rows[i][f]);
            }
            made[i] = cargo;
        }
        return made;
    }

    /** All setters in one handle, which a virtual machine compiles as a whole. */
    @Benchmark
    @OperationsPerInvocation(OBJECTS)
    public Object[] byOneHandle() throws Throwable {
        Object[] made = new Object[OBJECTS];
        for (int i = 0; i < OBJECTS; i++) {
            Object cargo = new Cargo();
            all.invokeExact(cargo, rows[i]);
            made[i] = cargo;
        }
        return made;
    }

    @Benchmark
    @OperationsPerInvocation(OBJECTS)
    public Object[] byOneClass() {
        Object[] made = new Object[OBJECTS];
        for (int i = 0; i < OBJECTS; i++) {
            Object cargo = new Cargo();
            KNOWING.write(cargo, rows[i]);
            made[i] = cargo;
        }
        return made;
    }
}
