package io.bathra.bench;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/** The same jobs in plain JDBC, as one would write them by hand. */
final class HandWritten {
    private final DataSource source;

    HandWritten(DataSource source) {
        this.source = source;
    }

    @Nullable
    Cargo byKey(long id) throws SQLException {
        try (Connection connection = source.getConnection()) {
            connection.setAutoCommit(false);
            try (PreparedStatement statement = connection.prepareStatement(Cargo.SELECT + " where id = ?")) {
                statement.setLong(1, id);
                try (ResultSet result = statement.executeQuery()) {
                    return result.next() ? cargo(result) : null;
                }
            } finally {
                connection.rollback();
                connection.setAutoCommit(true);
            }
        }
    }

    List<Cargo> byConditions(long id) throws SQLException {
        List<Cargo> found = new ArrayList<>();
        try (Connection connection = source.getConnection()) {
            connection.setAutoCommit(false);
            try (PreparedStatement statement = connection.prepareStatement(
                    Cargo.SELECT
                            + " where id = ? and serial like ? and kilos >= ? and packed > ? order by serial, seen desc, id limit 10")) {
                statement.setLong(1, id);
                statement.setString(2, "SER%");
                statement.setInt(3, 0);
                statement.setObject(4, LocalDate.of(2025, 1, 1));
                try (ResultSet result = statement.executeQuery()) {
                    while (result.next()) {
                        found.add(cargo(result));
                    }
                }
            } finally {
                connection.rollback();
                connection.setAutoCommit(true);
            }
        }
        return found;
    }

    List<Cargo> all() throws SQLException {
        List<Cargo> all = new ArrayList<>();
        try (Connection connection = source.getConnection()) {
            connection.setAutoCommit(false);
            try (PreparedStatement statement = connection.prepareStatement(Cargo.SELECT);
                    ResultSet result = statement.executeQuery()) {
                while (result.next()) {
                    all.add(cargo(result));
                }
            } finally {
                connection.rollback();
                connection.setAutoCommit(true);
            }
        }
        return all;
    }

    List<CargoRow> rows() throws SQLException {
        List<CargoRow> all = new ArrayList<>();
        try (Connection connection = source.getConnection()) {
            connection.setAutoCommit(false);
            try (PreparedStatement statement = connection.prepareStatement(
                            "select id, serial, note, kilos, volume, sealed, price, packed, seen from cargo");
                    ResultSet result = statement.executeQuery()) {
                while (result.next()) {
                    all.add(new CargoRow(
                            result.getLong(1),
                            result.getString(2),
                            result.getString(3),
                            result.getInt(4),
                            result.getDouble(5),
                            result.getBoolean(6),
                            result.getBigDecimal(7),
                            result.getObject(8, LocalDate.class),
                            result.getObject(9, LocalDateTime.class)));
                }
            } finally {
                connection.rollback();
                connection.setAutoCommit(true);
            }
        }
        return all;
    }

    List<ReadMany.Part> parts() throws SQLException {
        List<ReadMany.Part> all = new ArrayList<>();
        try (Connection connection = source.getConnection()) {
            connection.setAutoCommit(false);
            try (PreparedStatement statement =
                            connection.prepareStatement("select id, serial, kilos, price, seen from cargo");
                    ResultSet result = statement.executeQuery()) {
                while (result.next()) {
                    all.add(new ReadMany.Part(
                            result.getLong(1),
                            result.getString(2),
                            result.getInt(3),
                            result.getBigDecimal(4),
                            result.getObject(5, LocalDateTime.class)));
                }
            } finally {
                connection.rollback();
                connection.setAutoCommit(true);
            }
        }
        return all;
    }

    private static Cargo cargo(ResultSet result) throws SQLException {
        Cargo cargo = new Cargo();
        cargo.id = result.getLong(1);
        cargo.serial = result.getString(2);
        cargo.note = result.getString(3);
        cargo.kilos = result.getInt(4);
        cargo.volume = result.getDouble(5);
        cargo.sealed = result.getBoolean(6);
        cargo.kind = Cargo.Kind.valueOf(result.getString(7));
        cargo.price = result.getBigDecimal(8);
        cargo.packed = result.getObject(9, LocalDate.class);
        cargo.seen = result.getObject(10, LocalDateTime.class);
        return cargo;
    }
}
