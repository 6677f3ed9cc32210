package io.bathra.sql;

import java.util.List;
import java.util.Set;

/** Words that have to be quoted as names, on any of the databases; quoting one too many does no harm. */
final class ReservedWords {
    private static final Set<String> WORDS = Set.copyOf(List.of(
            ("abs absolute access action add admin after aggregate all allocate alter analyse analyze and any are array as"
                            + " asc asensitive asymmetric at atomic authorization avg backup before begin between bigint"
                            + " binary bit blob boolean both breadth by call called cardinality cascade cascaded case cast"
                            + " change char character check clob close coalesce collate collation column comment commit"
                            + " compress concurrently condition connect constraint contains convert corr count create cross"
                            + " cube current current_catalog current_date current_path current_role current_schema"
                            + " current_time current_timestamp current_user cursor cycle data database databases date day"
                            + " dayofweek deallocate dec decimal declare default deferrable deferred delayed delete dense_rank"
                            + " depth deref desc describe deterministic disconnect distinct div do domain double drop dual"
                            + " dynamic each element else elseif enclosed end end-exec escape escaped except exec execute"
                            + " exists exit exp explain external extract false fetch filter first_value float floor for force"
                            + " foreign frame_row free freeze from full fulltext function fusion general generated get glob"
                            + " global grant group grouping groups handler having high_priority hold hour identified identity"
                            + " if ignore ilike immediate in index indexed infile initially inner inout insensitive insert"
                            + " instead int integer intersect intersection interval into is isnull iterate join json key keys"
                            + " kill lag language large last_value lateral lead leading leave left level like limit linear"
                            + " lines ln load local localtime localtimestamp lock long longblob longtext loop lower match max"
                            + " maxvalue member merge method min minus minute mod mode modifies modify module month multiset"
                            + " national natural nchar nclob new no nocheck none normalize not nothing notnull nowait null"
                            + " nulls number numeric of off offline offset old on online only open option optionally or order"
                            + " others out outer outfile over overlaps overlay parameter partition percent placing position"
                            + " power pragma precision prepare primary prior privileges procedure public purge qualify raise"
                            + " range rank raw read reads real recursive ref references referencing regexp regr reindex release"
                            + " rename repeat replace require resignal resource restrict result return returning returns revoke"
                            + " right rlike rollback rollup row row_number rownum rows savepoint schema schemas scope scroll"
                            + " search second select sensitive separator session session_user set share show signal similar"
                            + " size smallint some spatial specific specifictype sql sqlexception sqlstate sqlwarning sqrt"
                            + " starting start static stddev_pop submultiset substring sum symmetric synonym sysdate system"
                            + " system_user table tablesample temp temporary terminated text then time timestamp timezone_hour"
                            + " timezone_minute tinyint to top trailing translate transaction treat trigger trim true truncate"
                            + " uescape undo union unique unknown unlock unnest unsigned until update upper usage use user"
                            + " using uuid vacuum validate value values var_pop varbinary varchar variadic varying verbose view"
                            + " virtual volatile when whenever where while width_bucket window with within without write xor"
                            + " year zone")
                    .split(" ")));

    private ReservedWords() {}

    static boolean contains(String lowerCaseWord) {
        return WORDS.contains(lowerCaseWord);
    }
}
