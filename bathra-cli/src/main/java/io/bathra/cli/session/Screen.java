package io.bathra.cli.session;

/** Where a session shows what it has to say. */
interface Screen {
    void print(Printed printed);

    /** How many columns a line may take. */
    int width();
}
