package io.bathra;

import java.util.Locale;

/** The house as a picture: a square for each pair of rooms, the darker the more classes of one use the other. */
final class HousePicture {
    private static final int CELL = 22;
    private static final int NAMES = 150;
    private static final int HEAD = 66;
    private static final int MARGIN = 16;

    private HousePicture() {}

    static String of(House house) {
        int rooms = House.ROOMS.size();
        int width = NAMES + rooms * CELL + 2 * MARGIN;
        int height = HEAD + rooms * CELL + 2 * MARGIN;
        StringBuilder svg = new StringBuilder();
        add(
                svg,
                "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%d\" height=\"%d\" viewBox=\"0 0 %d %d\""
                        + " font-family=\"Arial, Helvetica, sans-serif\" font-size=\"13\">",
                width,
                height,
                width,
                height);
        add(svg, "<title>The rooms of bathra-core, and who uses whom</title>");
        add(svg, "<rect width=\"%d\" height=\"%d\" fill=\"#ffffff\"/>", width, height);
        add(
                svg,
                "<text x=\"%d\" y=\"%d\" font-size=\"16\" fill=\"#1f2933\">Who uses whom: how many classes of the room on the left use"
                        + " the room of the column's black square</text>",
                MARGIN,
                MARGIN + 14);
        add(
                svg,
                "<text x=\"%d\" y=\"%d\" fill=\"#5f6b7a\">All stand right of the diagonal: no arrow goes up. Bold: users"
                        + " see it.</text>",
                MARGIN,
                MARGIN + 36);
        for (int row = 0; row < rooms; row++) {
            row(svg, house, row);
        }
        return svg + "</svg>\n";
    }

    private static void row(StringBuilder svg, House house, int row) {
        String room = House.ROOMS.get(row);
        int y = HEAD + MARGIN + row * CELL;
        add(
                svg,
                "<text x=\"%d\" y=\"%d\" fill=\"#1f2933\"%s>%s</text>",
                MARGIN,
                y + 15,
                house.isExported(room) ? " font-weight=\"bold\"" : "",
                room.equals("io.bathra") ? "io.bathra" : room.substring("io.bathra.".length()));
        for (int column = 0; column < House.ROOMS.size(); column++) {
            int x = MARGIN + NAMES + column * CELL;
            if (column == row) {
                add(
                        svg,
                        "<rect x=\"%d\" y=\"%d\" width=\"%d\" height=\"%d\" fill=\"#1f2933\"/>",
                        x,
                        y,
                        CELL - 2,
                        CELL - 2);
                continue;
            }
            int uses = house.arrows(room, House.ROOMS.get(column));
            add(
                    svg,
                    "<rect x=\"%d\" y=\"%d\" width=\"%d\" height=\"%d\" fill=\"%s\"/>",
                    x,
                    y,
                    CELL - 2,
                    CELL - 2,
                    shade(uses));
            if (uses > 0) {
                add(
                        svg,
                        "<text x=\"%d\" y=\"%d\" font-size=\"10\" text-anchor=\"middle\" fill=\"%s\">%d</text>",
                        x + CELL / 2 - 1,
                        y + 14,
                        uses > 12 ? "#ffffff" : "#1f2933",
                        uses);
            }
        }
    }

    private static String shade(int uses) {
        if (uses == 0) {
            return "#f1f4f7";
        }
        return uses > 12 ? "#1d5f8a" : uses > 4 ? "#6fa8cf" : "#c3dcee";
    }

    private static void add(StringBuilder svg, String format, Object... values) {
        svg.append(String.format(Locale.ROOT, format, values)).append('\n');
    }
}
