package io.bathra.examples.web;

import io.bathra.model.Model;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.context.annotation.Bean;

/** The bookings of the harbour's berths, on an embedded database unless the properties name another one. */
@SpringBootApplication
public class HarbourService {
    public static void main(String[] args) {
        SpringApplication.run(HarbourService.class, args);
    }

    /** All that a store has to be told. */
    @Bean
    Model model() {
        return Booking.MODEL;
    }
}
