/** Bookings of berths as a web service: what a small application with Spring Boot looks like. */
@NullMarked
package io.bathra.examples.web;

import org.jspecify.annotations.NullMarked;
