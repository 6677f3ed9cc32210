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

        private final MethodHandle pieces;

        private Whole(MethodHandle pieces) {
            this.pieces = pieces;
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
                    HandleChain.inTurn(READ, pieces.stream().map(PIECE::bindTo).toList()));
        }

        /** For pieces that one statement alone reads. */
        static Whole forOne(List<Piece> pieces) {
            Piece[] all = pieces.toArray(Piece[]::new);
            Piece inTurn = (result, from, row) -> {
                for (Piece piece : all) {
                    piece.read(result, from, row);
                }
            };
            return new Whole(PIECE.bindTo(inTurn));
        }

        void read(ResultSet result, int from, @Nullable Object[] row) throws SQLException {
            try {
                pieces.invokeExact(result, from, row);
            } catch (SQLException | RuntimeException | Error e) {
                throw e;
            } catch (Throwable e) {
                throw new IllegalStateException(e);
            }
        }
    }
}
