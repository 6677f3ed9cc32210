package io.bathra.spring;

import io.bathra.UnitLimits;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.boot.context.properties.ConfigurationProperties;
import org.springframework.boot.context.properties.bind.DefaultValue;

/**
 * How the store is set up.
 *
 * @param tables what is done about the tables of the model when the application starts
 * @param changes change files, where tables are a matter of theirs
 * @param schema database schema in which the tables are; none for that of the connection
 * @param commitTokens table for commit tokens, by which a lost reply to COMMIT is found out; none for no tokens. Units
 *     in Spring's transactions have none, since Spring commits
 * @param limits what a unit of work is warned of
 * @param keysAhead how many keys of a table are drawn ahead at most; 0 for none
 * @param sendTogether whether statements that need not wait for one another are sent in one round trip
 * @param throughPooler whether a pooler stands before the server that gives transactions to any of its sessions
 * @param standbys names of data source beans with standbys, which units on reading terms go to
 * @param log what is logged of the statements
 * @param observations what observations tell
 */
@ConfigurationProperties("bathra")
public record BathraProperties(
        @DefaultValue("leave") Tables tables,
        @DefaultValue Changes changes,
        @Nullable String schema,
        @Nullable String commitTokens,
        @DefaultValue Limits limits,
        @DefaultValue("256") int keysAhead,
        @DefaultValue("true") boolean sendTogether,
        @DefaultValue("false") boolean throughPooler,
        @DefaultValue List<String> standbys,
        @DefaultValue Log log,
        @DefaultValue Observe observations) {

    /** What is done about the tables of the model. */
    public enum Tables {
        /** Nothing. */
        LEAVE,
        /** Those that are missing are made; others are left as they are. */
        MAKE_MISSING,
        /** They are compared with the model; the application does not start where they differ. */
        COMPARE,
        /** Change files decide. */
        CHANGES
    }

    /**
     * Change files.
     *
     * @param folder folder with the files
     * @param atStart what is done when the application starts
     */
    public record Changes(
            @DefaultValue("changes") Path folder,
            @DefaultValue("require") AtStart atStart) {
        /** What is done with change files. */
        public enum AtStart {
            /** The application does not start where the database lacks one. */
            REQUIRE,
            /** Those that the database lacks are applied, by one of all instances that start. */
            APPLY
        }
    }

    /**
     * What a unit of work is warned of.
     *
     * @param entities so many tracked entities
     * @param openFor so long a time
     */
    public record Limits(
            @DefaultValue("100000") int entities,
            @DefaultValue("10m") Duration openFor) {
        UnitLimits asLimits() {
            return new UnitLimits(entities, openFor);
        }
    }

    /**
     * What observations tell.
     *
     * @param texts whether the text of each statement is told, never with its values
     */
    public record Observe(@DefaultValue("false") boolean texts) {}

    /**
     * What is logged.
     *
     * @param statements whether each statement is logged, on level DEBUG of {@code io.bathra.statements}; never with
     *     its values
     * @param slowerThan statements that took longer are logged on level WARN; none for no such limit
     */
    public record Log(
            @DefaultValue("false") boolean statements,
            @Nullable Duration slowerThan) {}
}
