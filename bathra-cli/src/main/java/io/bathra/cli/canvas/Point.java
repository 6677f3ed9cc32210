package io.bathra.cli.canvas;

/** A point on a drawing. */
public record Point(double x, double y) {}
