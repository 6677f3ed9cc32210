package io.bathra.catalogue;

import io.bathra.mapping.KeySource;
import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.mapping.ModelEntity;
import io.bathra.model.Difference;
import io.bathra.model.Difference.Kind;
import io.bathra.sql.Dialect;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Finds generators that would draw keys which are stored already, since rows came in another way. */
final class GeneratorCheck {
    /** How many tables are asked in one statement. */
    private static final int AT_ONCE = 100;

    private final Catalogue catalogue;
    private final Dialect dialect;
    private final Map<String, Standing> standings;
    private final Map<KeyTable, Map<String, Long>> keyTables = new HashMap<>();

    GeneratorCheck(Catalogue catalogue, Map<String, Standing> standings) {
        this.catalogue = catalogue;
        this.dialect = catalogue.dialect;
        this.standings = standings;
    }

    /** Those that have no generator, or one that lags behind. */
    List<GeneratorLag> lags(List<ModelEntity<?>> all) throws SQLException {
        List<ModelEntity<?>> entities = all.stream()
                .filter(entity -> entity.keySource() instanceof KeySource.Generated
                        || entity.keySource() instanceof KeySource.Sequence
                        || entity.keySource() instanceof KeyTable)
                .toList();
        List<GeneratorLag> lags = new ArrayList<>();
        for (int from = 0; from < entities.size(); from += AT_ONCE) {
            List<ModelEntity<?>> some = entities.subList(from, Math.min(entities.size(), from + AT_ONCE));
            Map<ModelEntity<?>, Long> greatest = new HashMap<>();
            catalogue.each(dialect.generators().greatestKeys(some), List.of(), row -> {
                long key = row.getLong(2);
                if (!row.wasNull()) {
                    greatest.put(some.get(row.getInt(1)), key);
                }
            });
            for (ModelEntity<?> entity : some) {
                lag(entity, greatest.get(entity)).ifPresent(lags::add);
            }
        }
        return lags;
    }

    private Optional<GeneratorLag> lag(ModelEntity<?> entity, @Nullable Long greatest) throws SQLException {
        String name = name(entity);
        Standing standing = standing(entity, name);
        if (standing == null) {
            return Optional.of(new GeneratorLag(
                    entity,
                    0,
                    null,
                    new Difference(
                            place(entity), "there is no generator " + name + " to draw its keys", Kind.LACKING)));
        }
        if (greatest == null || greatest < standing.least()) {
            return Optional.empty();
        }
        long next = standing.next();
        if (next > greatest) {
            try {
                next = catalogue.draw(name);
            } catch (SQLException e) {
                String words =
                        "not compared: whether its generator lags behind, since it does not tell: " + DriverWords.of(e);
                return Optional.of(new GeneratorLag(
                        entity, greatest, null, new Difference(place(entity), words, Kind.NOT_COMPARED)));
            }
        }
        return next > greatest ? Optional.empty() : Optional.of(lag(entity, greatest, next));
    }

    private static GeneratorLag lag(ModelEntity<?> entity, long greatest, long next) {
        String words = "the key " + greatest + " is stored, but the generator is at " + next
                + "; move it on, or keys will be drawn again";
        return new GeneratorLag(entity, greatest, next, new Difference(place(entity), words, Kind.LACKING));
    }

    private static String place(ModelEntity<?> entity) {
        return entity.table() + "." + entity.keyColumns().get(0).name();
    }

    private String name(ModelEntity<?> entity) {
        if (entity.keySource() instanceof KeySource.Sequence sequence) {
            return sequence.name();
        }
        return entity.keySource() instanceof KeyTable table
                ? table.name()
                : dialect.generators().ownName(entity);
    }

    private @Nullable Standing standing(ModelEntity<?> entity, String name) throws SQLException {
        if (entity.keySource() instanceof KeyTable table) {
            Map<String, Long> next = keyTables.get(table);
            if (next == null) {
                next = nextKeys(table);
                keyTables.put(table, next);
            }
            Long own = next.get(entity.table());
            return own == null ? null : Standing.at(own);
        }
        return standings.get(name);
    }

    private Map<String, Long> nextKeys(KeyTable table) throws SQLException {
        Map<String, Long> keys = new HashMap<>();
        catalogue.each(
                dialect.generators().nextKeys(table), List.of(), row -> keys.put(row.getString(1), row.getLong(2)));
        return keys;
    }
}
