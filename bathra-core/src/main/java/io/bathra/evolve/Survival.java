package io.bathra.evolve;

import static io.bathra.evolve.Verdict.Fate.BREAKS;
import static io.bathra.evolve.Verdict.Fate.GOES_ON;
import static io.bathra.evolve.Verdict.Fate.MAY_BREAK;

import io.bathra.evolve.Verdict.Fate;
import io.bathra.history.DataStep;
import io.bathra.history.FieldStep;
import io.bathra.history.RuleStep;
import io.bathra.history.SchemaStep;
import io.bathra.history.SheetStep;
import io.bathra.mapping.ColumnType;
import io.bathra.schema.Field;

/** Tells what a step means for those who know the schema before it. */
final class Survival {
    private final SchemaStep step;

    private Survival(SchemaStep step) {
        this.step = step;
    }

    static Verdict of(SchemaStep step) {
        Survival survival = new Survival(step);
        if (step instanceof SheetStep one) {
            return survival.of(one);
        } else if (step instanceof FieldStep one) {
            return survival.of(one);
        } else if (step instanceof RuleStep one) {
            return survival.of(one);
        }
        return survival.of((DataStep) step);
    }

    private Verdict harmless() {
        return verdict(GOES_ON, GOES_ON, GOES_ON, "");
    }

    private Verdict all(Fate fate, String why) {
        return verdict(fate, fate, fate, why);
    }

    private Verdict verdict(Fate reads, Fate inserts, Fate updates, String why) {
        return new Verdict(step.title(), reads, inserts, updates, why);
    }

    private Verdict of(SheetStep one) {
        if (one instanceof SheetStep.Drop) {
            return all(BREAKS, "it still works with these rows; drop them when no program does any more");
        } else if (one instanceof SheetStep.Rename rename) {
            return all(
                    BREAKS,
                    "it knows the table by its name before; keep the name with table(\"…\") in the model of "
                            + rename.newName());
        } else if (one instanceof SheetStep.ChangeKey) {
            return verdict(GOES_ON, MAY_BREAK, GOES_ON, "it draws keys as before; stop it before this step");
        } else if (one instanceof SheetStep.Tokens tokens && tokens.table() != null) {
            return verdict(GOES_ON, BREAKS, BREAKS, "it puts commit tokens there; stop it before this step");
        }
        return harmless();
    }

    private Verdict of(FieldStep one) {
        if (one instanceof FieldStep.Add add) {
            return of(add);
        } else if (one instanceof FieldStep.Drop) {
            return all(BREAKS, "it still reads and writes it; drop it when no program does any more");
        } else if (one instanceof FieldStep.Rename rename) {
            return all(
                    BREAKS,
                    "it knows " + rename.name()
                            + " by its column before; keep the column with name(\"…\") in the model, or"
                            + " have both for a while");
        }
        return of((FieldStep.Change) one);
    }

    private Verdict of(FieldStep.Add add) {
        boolean made = add.field() instanceof Field.OfColumn column
                && (column.byDefault() != null || column.computed() != null);
        return add.field().required() && !made
                ? verdict(
                        GOES_ON,
                        BREAKS,
                        GOES_ON,
                        "it gives no value; add it without 'required', and require it with the next release")
                : harmless();
    }

    private Verdict of(FieldStep.Change change) {
        Field old = change.field();
        Field now = change.newField();
        boolean narrower = old instanceof Field.OfColumn one
                && now instanceof Field.OfColumn other
                && !holds(other.type(), one.type());
        if (now.required() && !old.required()) {
            return verdict(GOES_ON, MAY_BREAK, MAY_BREAK, "it may leave it empty; require it with the next release");
        } else if (narrower) {
            return verdict(
                    sameKind(old, now) ? GOES_ON : MAY_BREAK,
                    MAY_BREAK,
                    MAY_BREAK,
                    "it may write what does not fit any more; narrow it with the next release");
        } else if (old.required() && !now.required()) {
            return verdict(
                    MAY_BREAK, GOES_ON, GOES_ON, "it expects a value in each row, as long as none writes another");
        }
        return harmless();
    }

    private static boolean sameKind(Field old, Field now) {
        return ((Field.OfColumn) old).type().kind()
                == ((Field.OfColumn) now).type().kind();
    }

    /** Whether a type keeps all values of another one. */
    static boolean holds(ColumnType type, ColumnType other) {
        if (type.kind() != other.kind()) {
            boolean texts = type.kind().isText()
                    && other.kind().isText()
                    && (type.length() == 0 || (other.length() > 0 && other.length() <= type.length()));
            boolean wider = type.kind() == ColumnType.Kind.LONG
                    && (other.kind() == ColumnType.Kind.INTEGER
                            || other.kind() == ColumnType.Kind.SHORT
                            || other.kind() == ColumnType.Kind.BYTE);
            return texts || wider;
        }
        return switch (type.kind()) {
            case STRING, ENUM -> type.length() == 0 || (other.length() > 0 && other.length() <= type.length());
            case DECIMAL ->
                type.scale() >= other.scale() && type.precision() - type.scale() >= other.precision() - other.scale();
            default -> true;
        };
    }

    private Verdict of(RuleStep one) {
        if (one instanceof RuleStep.AddUnique || one instanceof RuleStep.AddCheck) {
            return verdict(
                    GOES_ON,
                    MAY_BREAK,
                    MAY_BREAK,
                    "rows that it writes may be refused; add it with the next release, which keeps to it");
        } else if (one instanceof RuleStep.DropUnique) {
            return verdict(GOES_ON, MAY_BREAK, GOES_ON, "upserts that tell rows by it fail; stop it before this step");
        }
        return harmless();
    }

    private Verdict of(DataStep one) {
        if (one instanceof DataStep.Move) {
            return verdict(
                    GOES_ON, GOES_ON, MAY_BREAK, "what it writes from now on does not move; stop it before this step");
        }
        return one instanceof DataStep.Backfill
                ? harmless()
                : all(MAY_BREAK, "nobody but you knows what this SQL does; look at it");
    }
}
