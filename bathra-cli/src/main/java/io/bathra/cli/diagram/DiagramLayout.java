package io.bathra.cli.diagram;

import io.bathra.attr.Enforcer;
import io.bathra.cli.canvas.Point;
import io.bathra.cli.canvas.Rect;
import io.bathra.cli.canvas.Typeface;
import io.bathra.cli.diagram.Diagram.Box;
import io.bathra.cli.diagram.Diagram.End;
import io.bathra.cli.diagram.Diagram.Kind;
import io.bathra.cli.diagram.Diagram.Line;
import io.bathra.cli.diagram.Diagram.Row;
import io.bathra.cli.diagram.Diagram.Rule;
import io.bathra.model.EntityOutline;
import io.bathra.model.EntityOutline.Column;
import io.bathra.model.EntityOutline.LinkTo;
import io.bathra.model.Model;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;
import org.eclipse.elk.alg.layered.options.LayeredMetaDataProvider;
import org.eclipse.elk.alg.layered.options.LayeredOptions;
import org.eclipse.elk.core.RecursiveGraphLayoutEngine;
import org.eclipse.elk.core.data.LayoutMetaDataService;
import org.eclipse.elk.core.math.ElkPadding;
import org.eclipse.elk.core.options.CoreOptions;
import org.eclipse.elk.core.options.Direction;
import org.eclipse.elk.core.options.EdgeLabelPlacement;
import org.eclipse.elk.core.options.EdgeRouting;
import org.eclipse.elk.core.options.SizeConstraint;
import org.eclipse.elk.core.util.BasicProgressMonitor;
import org.eclipse.elk.graph.ElkEdge;
import org.eclipse.elk.graph.ElkEdgeSection;
import org.eclipse.elk.graph.ElkLabel;
import org.eclipse.elk.graph.ElkNode;
import org.eclipse.elk.graph.util.ElkGraphUtil;

/**
 * Finds places for the tables of a model: parents to the left of their children, lines at right angles around the
 * boxes.
 */
final class DiagramLayout {
    static final double TITLE = 15;
    static final double TEXT = 12;
    static final double SMALL = 11;
    static final double MARGIN = 24;
    static final double HEAD = 40;
    static final double LINE = 18;
    static final double PADDING = 10;
    static final double GAP = 16;
    static final double TOP = 56;
    static final double LEGEND = 44;
    private static final double LEAST_WIDTH = 760;

    private final Model model;
    private final ElkNode root = ElkGraphUtil.createGraph();
    private final Map<String, EntityOutline> byName = new HashMap<>();
    private final Map<EntityOutline, ElkNode> nodes = new LinkedHashMap<>();
    private final Map<EntityOutline, List<Row>> rows = new LinkedHashMap<>();
    private final List<Wire> wires = new ArrayList<>();

    /** A line before it has its place. */
    private record Wire(ElkEdge edge, End from, End to, Rule rule, String label) {}

    static {
        LayoutMetaDataService.getInstance().registerLayoutMetaDataProviders(new LayeredMetaDataProvider());
    }

    DiagramLayout(Model model) {
        this.model = model;
    }

    Diagram layOut() {
        root.setProperty(CoreOptions.ALGORITHM, LayeredOptions.ALGORITHM_ID);
        root.setProperty(CoreOptions.DIRECTION, Direction.RIGHT);
        root.setProperty(CoreOptions.EDGE_ROUTING, EdgeRouting.ORTHOGONAL);
        root.setProperty(CoreOptions.PADDING, new ElkPadding(TOP, MARGIN, MARGIN + LEGEND, MARGIN));
        root.setProperty(CoreOptions.SPACING_NODE_NODE, 36.0);
        root.setProperty(CoreOptions.SPACING_EDGE_NODE, 24.0);
        root.setProperty(CoreOptions.SPACING_EDGE_EDGE, 16.0);
        root.setProperty(CoreOptions.SPACING_EDGE_LABEL, 4.0);
        root.setProperty(CoreOptions.SPACING_LABEL_LABEL, 6.0);
        root.setProperty(LayeredOptions.SPACING_NODE_NODE_BETWEEN_LAYERS, 48.0);
        root.setProperty(LayeredOptions.SPACING_EDGE_NODE_BETWEEN_LAYERS, 26.0);
        root.setProperty(LayeredOptions.SPACING_EDGE_EDGE_BETWEEN_LAYERS, 14.0);
        List<EntityOutline> pivots = new ArrayList<>();
        for (EntityOutline entity : model.tables()) {
            byName.put(entity.name(), entity);
            if (entity.kind() == EntityOutline.Kind.PIVOT) {
                pivots.add(entity);
            } else {
                node(entity);
            }
        }
        nodes.keySet().forEach(entity -> entity.links().forEach(link -> wire(entity, link)));
        pivots.forEach(this::wire);
        new RecursiveGraphLayoutEngine().layout(root, new BasicProgressMonitor());
        return new Diagram(
                "The model '" + model.name() + "'",
                Math.max(root.getWidth(), LEAST_WIDTH),
                root.getHeight(),
                nodes.keySet().stream().map(this::box).toList(),
                wires.stream().map(DiagramLayout::line).toList());
    }

    private void node(EntityOutline entity) {
        List<Row> own = rows(entity);
        double width = Math.max(Typeface.width(entity.name(), TITLE), Typeface.width(entity.table(), SMALL));
        for (Row row : own) {
            width = Math.max(width, Typeface.width(row.name(), TEXT) + GAP + Typeface.width(row.words(), SMALL));
        }
        ElkNode node = ElkGraphUtil.createNode(root);
        node.setDimensions(Math.ceil(width + 2 * PADDING), HEAD + own.size() * LINE + PADDING);
        node.setProperty(CoreOptions.NODE_SIZE_CONSTRAINTS, EnumSet.noneOf(SizeConstraint.class));
        nodes.put(entity, node);
        rows.put(entity, own);
    }

    private static List<Row> rows(EntityOutline entity) {
        List<Row> rows = new ArrayList<>();
        Set<String> keyLinks = new HashSet<>();
        for (Column column : entity.columns()) {
            boolean link = entity.link(column.attribute()).isPresent();
            if (!link) {
                rows.add(new Row(column.label(), words(entity, column), column.key()));
            } else if (column.key() && keyLinks.add(column.attribute())) {
                rows.add(new Row(column.attribute(), "link", true));
            }
        }
        return rows;
    }

    private static String words(EntityOutline entity, Column column) {
        boolean unique = !column.key() && entity.unique().contains(List.of(column.attribute()));
        return column.type() + (unique ? ", unique" : "") + (column.wanted() ? "" : ", or none");
    }

    private EntityOutline named(String entity) {
        return Objects.requireNonNull(byName.get(entity));
    }

    private void wire(EntityOutline from, LinkTo link) {
        boolean alone =
                from.unique().contains(List.of(link.attribute())) || from.key().equals(List.of(link.attribute()));
        String rule = link.onDelete().name().toLowerCase(Locale.ROOT).replace('_', ' ');
        String label = link.attribute() + ": " + rule + (link.enforcedBy() == Enforcer.UNIT ? " by the unit" : "");
        wire(
                named(link.target()),
                from,
                link.required() ? End.ONE : End.ONE_OR_NONE,
                alone ? End.ONE_OR_NONE : End.MANY,
                Rule.valueOf(link.onDelete().name()),
                link.owner() ? "parts: cascade" : label);
    }

    private void wire(EntityOutline pivot) {
        wire(
                named(pivot.links().get(0).target()),
                named(pivot.links().get(1).target()),
                End.MANY,
                End.MANY,
                Rule.PIVOT,
                pivot.name().substring(pivot.name().indexOf('.') + 1) + ": pivot " + pivot.table());
    }

    private void wire(EntityOutline from, EntityOutline to, End fromEnd, End toEnd, Rule rule, String label) {
        ElkEdge edge = ElkGraphUtil.createSimpleEdge(
                Objects.requireNonNull(nodes.get(from)), Objects.requireNonNull(nodes.get(to)));
        ElkLabel words = ElkGraphUtil.createLabel(label, edge);
        words.setDimensions(Math.ceil(Typeface.width(label, SMALL)) + 4, SMALL + 4);
        words.setProperty(CoreOptions.EDGE_LABELS_PLACEMENT, EdgeLabelPlacement.CENTER);
        wires.add(new Wire(edge, fromEnd, toEnd, rule, label));
    }

    private Box box(EntityOutline entity) {
        ElkNode node = Objects.requireNonNull(nodes.get(entity));
        Kind kind = switch (entity.kind()) {
            case VIEW -> Kind.VIEW;
            case PARTS -> Kind.PARTS;
            case ENTITY, PIVOT -> Kind.ENTITY;
        };
        return new Box(
                kind,
                new Rect(node.getX(), node.getY(), node.getWidth(), node.getHeight()),
                entity.name(),
                entity.table(),
                Objects.requireNonNull(rows.get(entity)));
    }

    private static Line line(Wire wire) {
        ElkEdgeSection section = wire.edge.getSections().get(0);
        List<Point> points = new ArrayList<>();
        points.add(new Point(section.getStartX(), section.getStartY()));
        section.getBendPoints().forEach(bend -> points.add(new Point(bend.getX(), bend.getY())));
        points.add(new Point(section.getEndX(), section.getEndY()));
        ElkLabel label = wire.edge.getLabels().get(0);
        return new Line(
                points.stream().collect(Collectors.toUnmodifiableList()),
                wire.from,
                wire.to,
                wire.rule,
                wire.label,
                new Rect(label.getX(), label.getY(), label.getWidth(), label.getHeight()));
    }
}
