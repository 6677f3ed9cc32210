package io.bathra.evolve;

import io.bathra.error.BathraException;

/** A change file says something that cannot be, or that does not fit what comes before it. */
public final class FaultyChange extends BathraException {
    private static final long serialVersionUID = 1;

    /** The file. */
    private final String file;
    /** The line, from 1. */
    private final int line;
    /** The column in the line, from 1. */
    private final int column;

    /**
     * What is wrong, and where.
     *
     * @param place {@link Tree.Place#NOWHERE} where the whole file is meant
     * @param words what is wrong, and what to do
     * @param file the file
     */
    public FaultyChange(String file, Tree.Place place, String words) {
        super(file + (place.line() == 0 ? "" : ":" + place.line() + ":" + place.column()) + ": " + words);
        this.file = file;
        this.line = place.line();
        this.column = place.column();
    }

    /** {@return the file's name} */
    public String file() {
        return file;
    }

    /** {@return the line, counted from 1; 0 where the whole file is meant} */
    public int line() {
        return line;
    }

    /** {@return the column, counted from 1; 0 where the whole file is meant} */
    public int column() {
        return column;
    }
}
