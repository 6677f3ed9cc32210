package io.bathra;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assumptions.assumeThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;

/** The rooms of the library: no arrow goes up, little can be seen from outside, and the page that shows it is true. */
class HouseTest {
    private static final Path PAGE = Path.of("..", "docs", "house.md");
    private static final Path PICTURE = Path.of("..", "docs", "design", "house.svg");

    private final House house = House.compiled();

    @Test
    void everyClassHasARoomAndNoArrowGoesUp() {
        assertThat(House.ROOMS).containsExactlyInAnyOrderElementsOf(house.packages());
        assertThat(house.arrowsUp()).isEmpty();
    }

    @Test
    void atMostAThirdOfAllTypesCanBeSeen() {
        assertThat(house.visible()).hasSizeLessThanOrEqualTo(house.size() / 3);
    }

    @Test
    void thePageShowsTheHouseAsItIs() throws IOException {
        assumeThat(Runtime.version().feature())
                .as("other compilers leave other classes behind")
                .isEqualTo(17);
        if (System.getProperty("house.draw") != null) {
            Files.writeString(PAGE, house.page());
            Files.writeString(PICTURE, HousePicture.of(house));
        }
        assertThat(PAGE).content().as("draw it anew with -Dhouse.draw").isEqualTo(house.page());
        assertThat(PICTURE).content().as("draw it anew with -Dhouse.draw").isEqualTo(HousePicture.of(house));
    }
}
