package io.bathra.spring;

import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.error.BathraException;
import io.bathra.model.Difference;
import io.bathra.model.Model;
import io.bathra.model.ModelSource;
import io.bathra.trace.StatementListener;
import io.bathra.trace.StoreListener;
import java.util.List;
import java.util.ServiceLoader;
import java.util.stream.Collectors;
import javax.sql.DataSource;
import org.springframework.beans.factory.BeanFactory;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnMissingBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnSingleCandidate;
import org.springframework.boot.context.properties.EnableConfigurationProperties;
import org.springframework.context.annotation.Bean;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.util.ClassUtils;

/**
 * One store on the application's data source, with the model that is a bean, and the units of Spring's transactions.
 * Statement and store listeners that are beans are told of everything.
 */
@AutoConfiguration(
        afterName = {
            "org.springframework.boot.autoconfigure.jdbc.DataSourceAutoConfiguration",
            "org.springframework.boot.autoconfigure.jdbc.DataSourceTransactionManagerAutoConfiguration",
            "org.springframework.boot.jdbc.autoconfigure.DataSourceAutoConfiguration",
            "org.springframework.boot.jdbc.autoconfigure.DataSourceTransactionManagerAutoConfiguration"
        })
@ConditionalOnSingleCandidate(DataSource.class)
@EnableConfigurationProperties(BathraProperties.class)
public class BathraAutoConfiguration {

    /** {@return the units that are open, for health, information and the endpoint} */
    @Bean
    @ConditionalOnMissingBean
    public OpenUnits bathraOpenUnits() {
        return new OpenUnits();
    }

    /**
     * {@return the store, with its tables as the properties say}
     *
     * @param source where connections come from
     * @param models the models that there are
     * @param sources the data sources that there are
     * @param statementListeners whoever hears statements
     * @param storeListeners whoever hears units
     * @param setups what is said of the store
     * @param properties the settings
     * @param beans the beans of the program
     */
    @Bean
    @ConditionalOnMissingBean
    public Store bathraStore(
            DataSource source,
            ObjectProvider<Model> models,
            ObjectProvider<ModelSource> sources,
            ObjectProvider<StatementListener> statementListeners,
            ObjectProvider<StoreListener> storeListeners,
            ObjectProvider<StoreSetup> setups,
            BathraProperties properties,
            BeanFactory beans) {
        Store store = Store.open(model(models, sources, properties), Units.target(source))
                .withLimits(properties.limits().asLimits())
                .withKeysAhead(properties.keysAhead());
        if (!properties.sendTogether()) {
            store = store.sendingOneByOne();
        }
        if (properties.throughPooler()) {
            store = store.throughPooler();
        }
        if (!properties.standbys().isEmpty()) {
            store = store.readingFrom(properties.standbys().stream()
                    .map(name -> Units.target(beans.getBean(name, DataSource.class)))
                    .toArray(DataSource[]::new));
        }
        if (properties.log().statements() || properties.log().slowerThan() != null) {
            store = store.heardBy(new StatementLog(properties.log()));
        }
        for (StatementListener listener : statementListeners.orderedStream().toList()) {
            store = store.heardBy(listener);
        }
        for (StoreListener listener : storeListeners.orderedStream().toList()) {
            store = store.heardBy(listener);
        }
        for (StoreSetup setup : setups.orderedStream().toList()) {
            store = setup.apply(store);
        }
        prepareTables(store, properties);
        return store;
    }

    private static Model model(
            ObjectProvider<Model> models, ObjectProvider<ModelSource> sources, BathraProperties properties) {
        Model model = models.getIfAvailable(() -> {
            ModelSource source = sources.getIfAvailable(
                    () -> ServiceLoader.load(ModelSource.class).findFirst().orElse(null));
            if (source == null) {
                throw new BathraException("a store needs to know which entities there are; declare a bean of type"
                        + " io.bathra.model.Model, or of type io.bathra.model.ModelSource");
            }
            return source.model();
        });
        if (properties.schema() != null) {
            model = model.inSchema(properties.schema());
        }
        return properties.commitTokens() == null ? model : model.commitTokens(properties.commitTokens());
    }

    private static void prepareTables(Store store, BathraProperties properties) {
        switch (properties.tables()) {
            case LEAVE -> {}
            case MAKE_MISSING -> store.schema().createMissing();
            case COMPARE -> refuseDifferences(store.schema().verify());
            case CHANGES -> {
                if (!ClassUtils.isPresent("io.bathra.changes.SchemaChanges", null)) {
                    throw new BathraException(
                            "bathra.tables=changes needs the artifact bathra-changes; add it to the dependencies");
                }
                ChangeFiles.prepare(store, properties.changes());
            }
        }
    }

    private static void refuseDifferences(List<Difference> differences) {
        if (!differences.isEmpty()) {
            throw new BathraException("the tables are not those of the model, as bathra.tables=compare asks for:\n  "
                    + differences.stream().map(Difference::toString).collect(Collectors.joining("\n  ")));
        }
    }

    /** In a class of its own, since the artifact may be absent. */
    private static final class ChangeFiles {
        static void prepare(Store store, BathraProperties.Changes wanted) {
            SchemaChanges changes = SchemaChanges.of(store, wanted.folder());
            switch (wanted.atStart()) {
                case REQUIRE -> changes.require();
                case APPLY -> changes.apply();
            }
        }
    }

    /**
     * {@return the units of the transactions of all managers of the data source}
     *
     * @param store the store
     * @param source where connections come from
     * @param managers the transaction managers that there are
     */
    @Bean
    @ConditionalOnMissingBean
    public Units bathraUnits(Store store, DataSource source, ObjectProvider<PlatformTransactionManager> managers) {
        return new Units(store, source, managers.orderedStream().toArray(PlatformTransactionManager[]::new));
    }

    /** Bathra's exceptions as Spring's, where they leave a {@code @Repository}. */
    @Bean
    static SpringErrors bathraExceptionTranslator() {
        return new SpringErrors();
    }
}
