"""The frame of a wall panel or a tray in words: boards, joints, screws, where it is fixed, what to look out for."""

from __future__ import annotations

from cozy_burrow.core.bench.frames import SAW_MM, FramePlan, Pair, Screws, frame_of
from cozy_burrow.core.ground.carrying import carried
from cozy_burrow.core.model.records import Container, Project
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.core.units import Unit, format_length
from cozy_burrow.export.frame_pdf import FramePage
from cozy_burrow.export.paper import CAUTIONS

PAIRS: dict[Pair, str] = {
    "top_bottom": tr("top and bottom"),
    "sides": tr("sides"),
    "back_front": tr("back and front"),
    "left_right": tr("left and right"),
}


def frame_page(project: Project, container: Container) -> FramePage:
    """Return a frame with all that is said of it. Raises UnusableInput where none can be built."""
    plan, units = frame_of(container), project.units
    rows = [
        (PAIRS[one.pair], str(one.count), *(format_length(side, units) for side in one.size_mm)) for one in plan.boards
    ]
    if plan.back_mm is not None and container.frame is not None:
        sides = (*plan.back_mm, container.frame.back_mm)
        rows.append((tr("back"), "1", *(format_length(side, units) for side in sides)))
    return FramePage(
        title=tr("{name}: frame", name=container.name),
        plan=plan,
        boards=tuple(rows),
        steps=(
            _size_text(plan, units),
            _joint_text(plan, units),
            *_back_text(plan, units),
            *_fixing_text(project, container, plan, units),
        ),
        cautions=_cautions(container),
    )


def _size_text(plan: FramePlan, units: Unit) -> str:
    inside, outside = (
        f"{format_length(size[0], units, suffix=False)} × {format_length(size[1], units)}"
        for size in (plan.inside_mm, plan.outside_mm)
    )
    return tr(
        "Inside {inside}, outside {outside}. They take {board} of board, {saw} for each saw cut counted, and "
        "weigh about {kg:.1f} kg.",
        inside=inside,
        outside=outside,
        board=format_length(plan.board_mm, units, digits=0),
        saw=format_length(SAW_MM, units),
        kg=plan.boards_g / 1000.0,
    )


def _joint_text(plan: FramePlan, units: Unit) -> str:
    if plan.corner is None:
        return tr("Corners: saw both ends to 45°, the length is that of the outer edge; glue, and two pins a corner.")
    through = next(PAIRS[one.pair] for one in plan.boards if one.is_through)
    places = ", ".join(format_length(at, units) for at in plan.corner_at_mm)
    screws = tr(
        "{screws}, {places} from the back edge, drilled {drill} mm ahead.",
        screws=_screws_text(plan.corner, units),
        places=places,
        drill=f"{plan.corner.drill_mm:g}",
    )
    if plan.rebate_mm > 0:
        wide = format_length(plan.boards[0].thick_mm, units)
        joint = tr(
            "Corners: {through} get a rebate at both ends, {wide} wide and {deep} deep, on their inner face; glue, and "
            "screw:",
            through=through,
            wide=wide,
            deep=format_length(plan.rebate_mm, units),
        )
    else:
        joint = tr("Corners: {through} run through; glue, and screw through them:", through=through)
    return f"{joint} {screws}"


def _screws_text(screws: Screws, units: Unit) -> str:
    # Screws are sold by millimetres everywhere that this is read; inches are for what is measured here.
    return trn("{count} screw {size}", "{count} screws {size}", screws.count, size=_size(screws))


def _size(screws: Screws) -> str:
    return f"{screws.across_mm:g} × {screws.length_mm:g} mm"


def _back_text(plan: FramePlan, units: Unit) -> tuple[str, ...]:
    if plan.back is None:
        return ()
    return (
        tr(
            "Back: planted on from behind, a little smaller than the frame; {screws} into the middle of the boards' "
            "edges, the outer ones {first} from the corners.",
            screws=_screws_text(plan.back, units),
            first=format_length(min(x for x, _ in plan.back_at if x > plan.boards[0].thick_mm), units, digits=0),
        ),
    )


def _fixing_text(project: Project, container: Container, plan: FramePlan, units: Unit) -> tuple[str, ...]:
    if container.kind != "wall":
        return ()
    whole_g = carried(project, container).whole.mass_g + plan.mass_g
    if not plan.fixings:
        return (
            tr(
                "It has no back: hold it by angle brackets behind the foam, at least two on each side. Loaded it "
                "weighs about {kg:.1f} kg.",
                kg=whole_g / 1000.0,
            ),
        )
    places = "; ".join(
        f"{format_length(x, units, digits=0, suffix=False)} | {format_length(y, units, digits=0, suffix=False)}"
        for x, y in plan.fixings
    )
    each = whole_g / 1000.0 / len(plan.fixings)
    unit = "in" if units == "inch" else "mm"
    return (
        tr(
            "Fix it through the back before the foam goes in, flat heads on washers, at (from the inner left | from "
            "the inner bottom, {unit}): {places}. Loaded it weighs about {kg:.1f} kg, {each:.1f} kg a screw.",
            unit=unit,
            places=places,
            kg=whole_g / 1000.0,
            each=each,
        ),
    )


def _cautions(container: Container) -> tuple[str, ...]:
    found = [CAUTIONS[2]]
    if container.kind == "wall":
        found.append(
            tr(
                "Measure the door behind: a screw is shorter than back and door together. Look what lies in a wall "
                "before you drill; what a door, its hinges or a wall carry, their makers say."
            )
        )
    return tuple(found)


def boards_text(container: Container, units: Unit) -> str:
    """Return what is sawn, a line each, and how large it is outside. Raises UnusableInput where none can be built."""
    plan = frame_of(container)
    lines = [
        tr(
            "{count} × {length}, {pair}",
            count=one.count,
            length=format_length(one.length_mm, units),
            pair=PAIRS[one.pair],
        )
        for one in plan.boards
    ]
    wide, high = (format_length(side, units) for side in plan.outside_mm)
    return "\n".join((*lines, tr("outside {wide} × {high}", wide=wide, high=high)))
