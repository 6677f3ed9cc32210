package io.bathra.examples.harbour;

import io.bathra.link.Links;
import org.jspecify.annotations.Nullable;

/** A person who guides vessels in and out. */
public final class Pilot {
    private @Nullable Long id;
    private String badge = "";
    private String name = "";
    private Grade grade = Grade.TRAINEE;
    private @Nullable String phone;
    private final Links<Movement> movements = Links.empty();
    private final Links<PortCall> calls = Links.empty();

    Pilot() {}

    public Pilot(String badge, String name, Grade grade, @Nullable String phone) {
        this.badge = badge;
        this.name = name;
        this.grade = grade;
        this.phone = phone;
    }

    public @Nullable Long id() {
        return id;
    }

    public String badge() {
        return badge;
    }

    public String name() {
        return name;
    }

    public Grade grade() {
        return grade;
    }

    public @Nullable String phone() {
        return phone;
    }

    public Links<Movement> movements() {
        return movements;
    }

    /** The visits on which this pilot has guided a vessel. */
    public Links<PortCall> calls() {
        return calls;
    }

    @Override
    public String toString() {
        return name + " (" + badge + ")";
    }
}
