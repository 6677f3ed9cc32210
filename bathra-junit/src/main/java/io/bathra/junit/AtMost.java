package io.bathra.junit;

import java.lang.annotation.Documented;
import java.lang.annotation.ElementType;
import java.lang.annotation.Inherited;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/**
 * How many statements a test may execute at most on its stores; on a class, each of its tests. What stands on a test
 * counts before what stands on its class. Begin and commit are not counted.
 */
@Documented
@Inherited
@Target({ElementType.METHOD, ElementType.TYPE})
@Retention(RetentionPolicy.RUNTIME)
public @interface AtMost {
    /** {@return how many statements} */
    int value();
}
