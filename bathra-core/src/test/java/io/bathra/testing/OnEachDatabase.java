package io.bathra.testing;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;
import org.junit.jupiter.api.extension.ExtendWith;
import org.junit.jupiter.params.ParameterizedClass;
import org.junit.jupiter.params.provider.MethodSource;

/** Runs all tests of a class once for each database; the class takes a {@link TestDatabase} in its constructor. */
@Target(ElementType.TYPE)
@Retention(RetentionPolicy.RUNTIME)
@ParameterizedClass(name = "{0}")
@MethodSource("io.bathra.testing.TestDatabase#chosen")
@ExtendWith(BorrowedConnections.class)
public @interface OnEachDatabase {}
