package io.bathra.model;

/** What the words of {@link Declare} make. */
final class Options {
    private Options() {}

    record Source(KeySource source) implements KeyOption {}

    record Name(String column) implements NameOption {}

    record Required() implements SharedOption {}

    record Unique() implements SharedOption {}

    record Length(int length) implements ColumnOption {}

    record Made(DatabaseMade made) implements ColumnOption {}

    record Secret() implements ColumnOption {}

    record LongText() implements ColumnOption {}

    record Json() implements ColumnOption {}

    record Digits(int precision, int scale) implements ColumnOption {}
}
