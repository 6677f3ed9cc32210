package io.bathra.sql;

import java.util.Set;

/** Words that one of the databases does not take as a plain name; quoting one too many does no harm. */
final class ReservedWords {
    private static final Set<String> WORDS = Set.of("""
            accessible add all alter analyse analyze and any array as asc asensitive asymmetric
            authorization autoincrement before between bigint binary blob both by call cascade case cast
            change char character check collate collation column commit concurrently condition constraint
            continue convert create cross current_catalog current_date current_path current_role
            current_schema current_time current_timestamp current_user cursor database databases day
            day_hour day_microsecond day_minute day_second dec decimal declare default deferrable delayed
            delete delete_domain_id desc describe deterministic distinct distinctrow div do do_domain_ids
            double drop dual each else elseif enclosed end escape escaped except exists exit explain false
            fetch float float4 float8 for force foreign freeze from full fulltext general grant group groups
            having high_priority hour hour_microsecond hour_minute hour_second if ignore ignore_domain_ids
            ignore_server_ids ilike in index infile initially inner inout insensitive insert int int1 int2
            int3 int4 int8 integer intersect interval into is isnull iterate join key keys kill lateral
            leading leave left like limit linear lines load localtime localtimestamp lock long longblob
            longtext loop low_priority master_heartbeat_period master_ssl_verify_server_cert match maxvalue
            mediumblob mediumint mediumtext middleint minus minute minute_microsecond minute_second mod
            modifies month natural no_write_to_binlog not nothing notnull null numeric offset on only
            optimize option optionally or order out outer outfile over overlaps page_checksum
            parse_vcol_expr partition placing precision primary procedure purge qualify range read
            read_write reads real recursive ref_system_id references regexp release rename repeat replace
            require resignal restrict return returning revoke right rlike row row_number rownum rows schema
            schemas second second_microsecond select sensitive separator session_user set show signal
            similar slow smallint some spatial specific sql sql_big_result sql_calc_found_rows
            sql_small_result sqlexception sqlstate sqlwarning ssl starting stats_auto_recalc
            stats_persistent stats_sample_pages straight_join symmetric system_user table tablesample
            terminated then tinyblob tinyint tinytext to top trailing transaction trigger true uescape undo
            union unique unknown unlock unsigned update usage use user using utc_date utc_time utc_timestamp
            value values varbinary varchar varcharacter variadic varying vector verbose when where while
            window with write xor year year_month zerofill
            """.trim().split("\\s+"));

    private ReservedWords() {}

    static boolean contains(String lowerCaseWord) {
        return WORDS.contains(lowerCaseWord);
    }
}
