package io.bathra.cli.diagram;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.table;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.attr.DeleteRule;
import io.bathra.cli.canvas.Point;
import io.bathra.cli.canvas.Rect;
import io.bathra.cli.canvas.Typeface;
import io.bathra.cli.diagram.Diagram.Box;
import io.bathra.cli.diagram.Diagram.Line;
import io.bathra.cli.diagram.Diagram.Row;
import io.bathra.examples.harbour.Harbour;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import javax.imageio.ImageIO;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.w3c.dom.Element;
import org.w3c.dom.NodeList;

/** Drawings in which nothing overlaps, and no text is cut. */
class DiagramTest {
    /** Each entity leads to others; the names are as long as they get. */
    static class Node {
        Long id;
        String anAttributeWithQuiteALongNameForAColumn;
        String small;
        final Link<A> first = Link.empty();
        final Link<B> second = Link.empty();
        final Links<C> many = Links.empty();

        String small() {
            return small;
        }

        Link<A> first() {
            return first;
        }

        Link<B> second() {
            return second;
        }

        Links<C> many() {
            return many;
        }
    }

    static final class A extends Node {}

    static final class B extends Node {}

    static final class C extends Node {}

    static final class D extends Node {}

    static final class E extends Node {}

    static final class F extends Node {}

    static final class G extends Node {}

    static final class H extends Node {}

    static final class AnEntityWithAVeryLongNameIndeedAsSomeHave extends Node {}

    static final class J extends Node {}

    static final class K extends Node {}

    static final class L extends Node {}

    private static Entity<A> a() {
        return Entity.of(A.class, A::new).pivot(A::many, table("a_and_c"));
    }

    static List<Model> models() {
        return List.of(
                Harbour.MODEL,
                Model.of(
                        "twelve",
                        a(),
                        Entity.of(B.class, B::new)
                                .link(B::first, required(), onDelete(DeleteRule.CASCADE))
                                .pivot(B::many, table("b_and_c")),
                        Entity.of(C.class, C::new).column(C::small, length(3)).pivot(C::many, table("c_and_c")),
                        Entity.of(D.class, D::new)
                                .link(D::second, onDelete(DeleteRule.SET_NULL))
                                .pivot(D::many, table("d_and_c")),
                        Entity.of(E.class, E::new).pivot(E::many, table("e_and_c")),
                        Entity.of(F.class, F::new).pivot(F::many, table("f_and_c")),
                        Entity.of(G.class, G::new).pivot(G::many, table("g_and_c")),
                        Entity.of(H.class, H::new).pivot(H::many, table("h_and_c")),
                        Entity.of(
                                        AnEntityWithAVeryLongNameIndeedAsSomeHave.class,
                                        AnEntityWithAVeryLongNameIndeedAsSomeHave::new)
                                .pivot(AnEntityWithAVeryLongNameIndeedAsSomeHave::many, table("long_and_c")),
                        Entity.of(J.class, J::new).pivot(J::many, table("j_and_c")),
                        Entity.of(K.class, K::new).pivot(K::many, table("k_and_c")),
                        Entity.of(L.class, L::new).pivot(L::many, table("l_and_c"))));
    }

    @ParameterizedTest
    @MethodSource("models")
    void nothingOverlapsAndNothingIsCut(Model model) {
        Diagram diagram = Diagram.of(model);
        Rect paper = new Rect(0, 0, diagram.width(), diagram.height());
        assertThat(diagram.boxes()).hasSizeGreaterThanOrEqualTo(9);
        List<Rect> places = new ArrayList<>();
        for (Box box : diagram.boxes()) {
            assertThat(paper.holds(box.place())).as(box.title()).isTrue();
            assertThat(places).as(box.title()).noneMatch(box.place()::overlaps);
            places.add(box.place());
            assertThat(box.place().height())
                    .isGreaterThanOrEqualTo(DiagramLayout.HEAD + box.rows().size() * DiagramLayout.LINE);
            double inside = box.place().width() - 2 * DiagramLayout.PADDING;
            assertThat(Typeface.width(box.title(), DiagramLayout.TITLE)).isLessThanOrEqualTo(inside);
            for (Row row : box.rows()) {
                assertThat(Typeface.width(row.name(), DiagramLayout.TEXT)
                                + Typeface.width(row.words(), DiagramLayout.SMALL))
                        .as(box.title() + "." + row.name())
                        .isLessThan(inside);
            }
        }
        for (Line line : diagram.lines()) {
            assertThat(paper.holds(line.labelPlace())).as(line.label()).isTrue();
            assertThat(Typeface.width(line.label(), DiagramLayout.SMALL))
                    .isLessThanOrEqualTo(line.labelPlace().width());
            assertThat(places).as(line.label()).noneMatch(line.labelPlace()::overlaps);
            places.add(line.labelPlace());
            assertThat(diagram.boxes()).as(line.label()).noneMatch(box -> crosses(line, box.place()));
        }
    }

    /** Lines go straight up, down and sideways. */
    private static boolean crosses(Line line, Rect box) {
        List<Point> points = line.points();
        for (int i = 1; i < points.size(); i++) {
            Point a = points.get(i - 1);
            Point b = points.get(i);
            Rect part = new Rect(
                    Math.min(a.x(), b.x()), Math.min(a.y(), b.y()), Math.abs(a.x() - b.x()), Math.abs(a.y() - b.y()));
            Rect within = new Rect(box.x() + 0.5, box.y() + 0.5, box.width() - 1, box.height() - 1);
            if (part.overlaps(within)) {
                return true;
            }
        }
        return false;
    }

    @ParameterizedTest
    @MethodSource("models")
    void bothFormsHoldAllOfIt(Model model) throws Exception {
        Diagram diagram = Diagram.of(model);
        Element svg = DocumentBuilderFactory.newInstance()
                .newDocumentBuilder()
                .parse(new ByteArrayInputStream(diagram.svg().getBytes(StandardCharsets.UTF_8)))
                .getDocumentElement();
        NodeList texts = svg.getElementsByTagName("text");
        List<String> words = new ArrayList<>();
        for (int i = 0; i < texts.getLength(); i++) {
            Element text = (Element) texts.item(i);
            words.add(text.getTextContent());
            assertThat(Double.parseDouble(text.getAttribute("x")) + Double.parseDouble(text.getAttribute("textLength")))
                    .as(text.getTextContent())
                    .isLessThanOrEqualTo(diagram.width());
        }
        for (Box box : diagram.boxes()) {
            assertThat(words).contains(box.title(), box.subtitle());
        }
        assertThat(words).containsAll(diagram.lines().stream().map(Line::label).toList());

        BufferedImage png = ImageIO.read(new ByteArrayInputStream(diagram.png()));
        assertThat(png.getWidth()).isEqualTo((int) Math.ceil(diagram.width()));
        for (Box box : diagram.boxes()) {
            int white = 0;
            for (int x = 0; x < box.place().width(); x++) {
                for (int y = 4; y < 22; y++) {
                    int colour = png.getRGB(
                            (int) box.place().x() + x, (int) box.place().y() + y);
                    white += (colour & 0xff) > 0xc0 ? 1 : 0;
                }
            }
            assertThat(white).as("letters in the heading of " + box.title()).isGreaterThan(4);
        }
    }
}
