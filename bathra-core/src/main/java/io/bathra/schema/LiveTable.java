package io.bathra.schema;

import java.util.List;

/**
 * A table as a database lists it; names are as listed.
 *
 * @param keyColumns the columns of its primary key, in order
 * @param uniques the columns of each unique constraint or index, the primary key's among them
 * @param indexes the columns of each index, unique ones among them
 * @param foreignKeys its foreign keys; the names of the constraints play no part
 */
public record LiveTable(
        String name,
        List<LiveColumn> columns,
        List<String> keyColumns,
        List<List<String>> uniques,
        List<List<String>> indexes,
        List<ForeignKey> foreignKeys) {}
