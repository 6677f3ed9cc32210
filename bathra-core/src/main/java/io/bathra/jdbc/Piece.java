package io.bathra.jdbc;

import io.bathra.access.HandleChain;
import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodType;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What reads a piece of a row: the columns of an attribute, or a value. */
interface Piece {
    /**
     * Reads from the current row.
     *
     * @param from where the columns begin
     * @param row where to put what was read
     */
    void read(ResultSet result, int from, @Nullable Object[] row) throws SQLException;

    /** All pieces of a row. */
    final class Whole {
        private static final MethodType READ =
                MethodType.methodType(void.class, ResultSet.class, int.class, Object[].class);
        private static final MethodHandle PIECE = piece();

        private final Piece[] pieces;
        private final @Nullable MethodHandle compiled;

        private Whole(List<Piece> pieces, @Nullable MethodHandle compiled) {
            this.pieces = pieces.toArray(Piece[]::new);
            this.compiled = compiled;
        }

        private static MethodHandle piece() {
            try {
                return MethodHandles.lookup().findVirtual(Piece.class, "read", READ);
            } catch (ReflectiveOperationException e) {
                throw new IllegalStateException(e);
            }
        }

        /** For pieces that are read by many statements, and so often that it pays to compile them as a whole. */
        static Whole forMany(List<Piece> pieces) {
            return new Whole(
                    pieces,
                    HandleChain.COMPILED
                            ? HandleChain.inTurn(
                                    READ, pieces.stream().map(PIECE::bindTo).toList())
                            : null);
        }

        /** For pieces that one statement alone reads. */
        static Whole forOne(List<Piece> pieces) {
            return new Whole(pieces, null);
        }

        void read(ResultSet result, int from, @Nullable Object[] row) throws SQLException {
            if (compiled == null) {
                for (Piece piece : pieces) {
                    piece.read(result, from, row);
                }
                return;
            }
            try {
                compiled.invokeExact(result, from, row);
            } catch (SQLException | RuntimeException | Error e) {
                throw e;
            } catch (Throwable e) {
                throw new IllegalStateException(e);
            }
        }
    }
}
