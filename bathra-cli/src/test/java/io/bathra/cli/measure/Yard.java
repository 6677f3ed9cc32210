package io.bathra.cli.measure;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.generated;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.number;

import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/** A model with about everything that a row may ask for. */
public final class Yard {
    enum Surface {
        GRAVEL,
        ASPHALT,
        CONCRETE
    }

    static final class Block {
        @Nullable
        Long id;

        String code = "";
        Surface surface = Surface.GRAVEL;
        final Links<Slot> slots = Links.empty();

        @Nullable
        Long id() {
            return id;
        }

        String code() {
            return code;
        }

        Surface surface() {
            return surface;
        }

        Links<Slot> slots() {
            return slots;
        }
    }

    /** Its key is a link and a number. */
    static final class Slot {
        final Link<Block> block = Link.empty();
        int number;
        String label = "";

        @Nullable
        BigDecimal heightMetres;

        boolean reefer;

        @Nullable
        LocalDate checkedOn;

        UUID mark = new UUID(0, 0);
        Instant seenAt = Instant.EPOCH;
        Surface surface = Surface.GRAVEL;
        final List<String> notes = new ArrayList<>();
        final Links<Stay> stays = Links.empty();

        Link<Block> block() {
            return block;
        }

        int number() {
            return number;
        }

        String label() {
            return label;
        }

        @Nullable
        BigDecimal heightMetres() {
            return heightMetres;
        }

        boolean reefer() {
            return reefer;
        }

        @Nullable
        LocalDate checkedOn() {
            return checkedOn;
        }

        UUID mark() {
            return mark;
        }

        Instant seenAt() {
            return seenAt;
        }

        Surface surface() {
            return surface;
        }

        List<String> notes() {
            return notes;
        }

        Links<Stay> stays() {
            return stays;
        }
    }

    static final class Stay {
        @Nullable
        Long id;

        String serial = "";
        final Link<Slot> slot = Link.empty();

        @Nullable
        Long id() {
            return id;
        }

        String serial() {
            return serial;
        }

        Link<Slot> slot() {
            return slot;
        }
    }

    /** No first one can be made up. */
    static final class Ring {
        @Nullable
        Long id;

        final Link<Ring> next = Link.empty();

        @Nullable
        Long id() {
            return id;
        }

        Link<Ring> next() {
            return next;
        }
    }

    public static final Model MODEL = Model.of(
            "yard",
            Entity.of(Block.class, Block::new)
                    .key(Block::id, generated())
                    .column(Block::code, required(), length(4), unique())
                    .column(Block::surface, required())
                    .links(Block::slots, Slot::block),
            Entity.of(Slot.class, Slot::new)
                    .key(Slot::block, Slot::number)
                    .column(Slot::label, required(), length(8), unique())
                    .column(Slot::heightMetres, digits(3, 1))
                    .column(Slot::mark, required())
                    .column(Slot::seenAt, required())
                    .column(Slot::surface, required())
                    .check(number(Slot::number).above(0))
                    .parts(Slot::notes)
                    .links(Slot::stays, Stay::slot),
            Entity.of(Stay.class, Stay::new)
                    .column(Stay::serial, required(), length(11), unique())
                    .link(Stay::slot, required()),
            Entity.of(Ring.class, Ring::new).link(Ring::next, required()));

    private Yard() {}
}
