package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.List;

/** Brings in the new objects that others reach over their associations. */
final class Reach {
    private final Tracker tracker;
    private final BothSides sides;

    Reach(Tracker tracker, BothSides sides) {
        this.tracker = tracker;
        this.sides = sides;
    }

    /** Whether an object cannot be a row yet. */
    static boolean isNew(ModelEntity<?> entity, Object object) {
        return !entity.keySource().isDrawn() || entity.drawnKeyOf(object) == null;
    }

    /** Tracks an object and all new ones that can be reached from it. Walks with a queue: graphs can be deep. */
    Entry<?> attach(Object root) {
        Entry<?> first = tracker.create(root, State.NEW);
        List<Entry<?>> reached = new ArrayList<>();
        reached.add(first);
        for (int i = 0; i < reached.size(); i++) {
            Entry<?> entry = reached.get(i);
            List<LinkAttribute> links = entry.entity().links();
            for (int j = 0; j < links.size(); j++) { // no iterator: this is done for each new object
                LinkAttribute link = links.get(j);
                Object target = Doors.link().target(link.holder(entry.object()));
                if (target != null) {
                    attachNeighbour(target, link.cascades(), reached);
                    sides.show(entry, link, target);
                }
            }
            for (InverseAttribute back : entry.entity().inverses()) {
                Object target = Doors.link().target(back.holder(entry.object()));
                if (target != null) {
                    attachNeighbour(target, true, reached);
                    sides.pointBack(entry, back, target);
                }
            }
            for (LinksAttribute many : entry.entity().toManys()) {
                for (Object element : Doors.links().present(many.holder(entry.object()))) {
                    attachNeighbour(element, many.cascades(), reached);
                    sides.pointBack(entry, many, element);
                }
            }
            for (PivotAttribute pivot : entry.entity().pivots()) {
                for (Object element : Doors.links().present(pivot.holder(entry.object()))) {
                    attachNeighbour(element, pivot.cascades(), reached);
                    sides.showPair(entry, pivot, element);
                }
            }
            for (PartsAttribute parts : entry.entity().parts()) {
                for (Object target : targetsOf(parts, entry.object())) {
                    attachNeighbour(target, true, reached);
                }
            }
        }
        return first;
    }

    /** The new objects that links inside parts lead to come along when the parts are looked at. */
    List<Object> targetsInParts(Entry<?> owner, PartsAttribute parts) {
        List<Object> targets = targetsOf(parts, owner.object());
        targets.forEach(target -> attachNew(target, true));
        return targets;
    }

    private static List<Object> targetsOf(PartsAttribute parts, Object owner) {
        List<LinkAttribute> links = parts.parts().memberLinks();
        List<Object> targets = new ArrayList<>();
        if (links.isEmpty()) {
            return targets;
        }
        for (Object part : parts.now(owner)) {
            HiddenRow row = parts.row(owner, part, null);
            for (LinkAttribute link : links) {
                Object holder = link.get(row);
                Object target = holder == null ? null : Doors.link().target(holder);
                if (target != null) {
                    targets.add(target);
                }
            }
        }
        return targets;
    }

    private void attachNeighbour(Object object, boolean cascades, List<Entry<?>> reached) {
        if (cascades && tracker.entryOf(object) == null && isNew(tracker.entityOf(object), object)) {
            reached.add(tracker.create(object, State.NEW));
        }
    }

    /** Tracks an object that has come into reach, unless it is known, or a row of somebody else's. */
    void attachNew(Object object, boolean cascades) {
        if (cascades && tracker.entryOf(object) == null && isNew(tracker.entityOf(object), object)) {
            attach(object);
        }
    }
}
