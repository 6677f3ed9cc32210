package io.bathra.evolve;

import io.bathra.error.BathraException;

/** A change file says something that cannot be, or that does not fit what comes before it. */
public final class FaultyChange extends BathraException {
    private static final long serialVersionUID = 1;

    private final String file;
    private final int line;
    private final int column;

    /**
     * What is wrong, and where.
     *
     * @param place {@link Tree.Place#NOWHERE} where the whole file is meant
     * @param words what is wrong, and what to do
     */
    public FaultyChange(String file, Tree.Place place, String words) {
        super(file + (place.line() == 0 ? "" : ":" + place.line() + ":" + place.column()) + ": " + words);
        this.file = file;
        this.line = place.line();
        this.column = place.column();
    }

    /** The file's name. */
    public String file() {
        return file;
    }

    /** The line, counted from 1; 0 where the whole file is meant. */
    public int line() {
        return line;
    }

    /** The column, counted from 1; 0 where the whole file is meant. */
    public int column() {
        return column;
    }
}
