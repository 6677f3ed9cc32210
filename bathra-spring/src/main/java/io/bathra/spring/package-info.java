/**
 * Units of work in Spring's transactions, and what Spring Boot needs to set them up.
 *
 * @see io.bathra.spring.Units
 */
@NullMarked
package io.bathra.spring;

import org.jspecify.annotations.NullMarked;
