package io.bathra.evolve;

/** What is wrong at a place of a change file. */
final class Misread extends RuntimeException {
    private static final long serialVersionUID = 1;

    private final transient Tree at;

    Misread(Tree at, String words) {
        super(words);
        this.at = at;
    }

    Tree.Place place() {
        return at.place();
    }

    String words() {
        return String.valueOf(getMessage());
    }
}
