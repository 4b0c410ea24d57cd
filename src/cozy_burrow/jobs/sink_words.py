"""How things sit, in words: the layers under each zone, level or not, what is advised, whether the lid closes."""

from __future__ import annotations

from cozy_burrow.core.bench.preparing import LEAST_RISER_MM
from cozy_burrow.core.depth.elastic import Sunk
from cozy_burrow.core.depth.options import Option
from cozy_burrow.core.depth.seat import Seating, floor_left_mm
from cozy_burrow.core.depth.sitting import LEVEL_DEG, Sitting
from cozy_burrow.core.ground.closing import Closing
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Item, Point, Project
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.core.units import Unit, format_fine, format_length
from cozy_burrow.jobs.wording import SEAT_NAMES


def layers_text(item: Item, zone_layers: tuple[int, ...]) -> str:
    """Return how many layers come out under each zone: ‘handle: 3 layers, shaft: 2’."""
    if len(item.zones) == 1:
        return layers_out(zone_layers[0])
    parts = [f"{zone.name}: {count}" for zone, count in zip(item.zones, zone_layers)]
    parts[0] = f"{item.zones[0].name}: {layers_out(zone_layers[0])}"
    return ", ".join(parts)


def layers_out(count: int) -> str:
    """Return a number of layers in words."""
    return trn("{count} layer", "{count} layers", count)


def lies_text(sitting: Sitting, unit: Unit) -> str:
    """Return how it then lies: ‘lies level, stands 2 mm proud’."""
    lies = tr("lies level") if sitting.tilt_deg < 0.05 else tr("lies {tilt:.1f}° off level", tilt=sitting.tilt_deg)
    if sitting.rocks:
        lies += tr(
            ", rocks at a push of {push_share:.0f} % of its weight", push_share=100 * max(0.0, sitting.push_share)
        )
    proud = format_length(abs(sitting.proud_mm), unit)
    return f"{lies}, " + (
        tr("stands {proud} proud", proud=proud)
        if sitting.proud_mm >= 0
        else tr("lies {proud} below the surface", proud=proud)
    )


def sits_text(item: Item, seating: Seating, sitting: Sitting, ground: Ground, unit: Unit) -> str:
    """Return the whole sentence for a thing as it is: layers, how it lies, the floor that stays, what is put back."""
    floor = format_length(floor_left_mm(seating, ground.insert.sheets), unit)
    risers = risers_text(item, seating.risers_mm, unit)
    back = f" {risers[0].upper()}{risers[1:]}." if risers else ""
    how = tr(" Layers set by hand.") if seating.by_hand else (tr(" The floor holds it up.") if seating.held_up else "")
    lies = lies_text(sitting, unit)
    out = layers_text(item, seating.zone_layers)
    return tr(
        "{lies}{lies_2}. Out: {out}; {floor} of foam stay under it.{back}{how}",
        lies=lies[0].upper(),
        lies_2=lies[1:],
        out=out,
        floor=floor,
        back=back,
        how=how,
    )


def risers_text(
    item: Item, risers_mm: tuple[float, ...], unit: Unit, sizes_mm: tuple[Point | None, ...] | None = None
) -> str:
    """Return what is put back under which zone; empty where nothing is. sizes_mm: of the pieces, where told."""
    risers = []
    for zone, riser, size in zip(item.zones, risers_mm, sizes_mm or (None,) * len(risers_mm)):
        if riser <= LEAST_RISER_MM:
            continue
        text = tr("{riser} of its plug back under {name}", riser=format_length(riser, unit), name=zone.name)
        if size is not None:
            long, wide = (format_length(side, unit, digits=0, suffix=side is size[1]) for side in size)
            text += f" ({long} × {wide})"
        risers.append(text)
    return tr("put {risers}", risers=", ".join(risers)) if risers else ""


def pressed_text(pressed: Sunk, mass_g: float | None, unit: Unit) -> str:
    """Return how far its weight presses the foam in, for the hover."""
    whose = tr("Its weight") if mass_g is not None else tr("Its weight, by its volume,")
    return tr(
        "{whose} presses it {deeper} into the foam, {worst:.0f} kPa at worst",
        whose=whose,
        deeper=format_fine(pressed.deeper_mm, unit),
        worst=pressed.worst_kpa,
    ) + (tr(", and tilts it to {tilt:.1f}°.", tilt=pressed.tilt_deg) if pressed.tilt_deg > 0.2 else ".")


def why_text(sitting: Sitting, item: Item, unit: Unit) -> str:
    """Return what holds it and what hangs, for the hover."""
    on = dict.fromkeys(item.zones[one.zone].name for one in sitting.contacts)
    hangs = [
        tr("{name} by {gap}", name=zone.name, gap=format_fine(gap, unit))
        for zone, gap in zip(item.zones, sitting.gaps_mm)
        if gap > 0.1
    ]
    over = tr(" Free in the air: {list}.", list=", ".join(hangs)) if hangs else ""
    return tr(
        "Rests on {list}.{over} It comes to rest where its weight lies deepest on the floors of "
        "its pocket; its weight is taken as spread evenly over its volume. Up to {level:g}° "
        "counts as level. A push of {push_share:.0f} % of its weight at its end would tip it.",
        list=", ".join(on),
        over=over,
        level=LEVEL_DEG,
        push_share=100 * min(99.0, max(0.0, sitting.push_share)),
    )


def short_text(sitting: Sitting, unit: Unit) -> str:
    """Return how it would lie in a few words: ‘level, 24.8 mm proud’."""
    level = tr("level") if sitting.tilt_deg < 0.05 else tr("{tilt:.1f}° off level", tilt=sitting.tilt_deg)
    proud = format_length(abs(sitting.proud_mm), unit)
    if sitting.proud_mm >= 0:
        return tr("{level}, {proud} proud", level=level, proud=proud)
    return tr("{level}, {proud} below the surface", level=level, proud=proud)


def option_text(item: Item, option: Option, now: Seating, unit: Unit) -> str:
    """Return a way out and what it gives: ‘Handle: 3 layers, shaft: 2: level, 2 mm proud’."""
    advice = option.advice
    layers = layers_text(item, advice.zone_layers)
    out = [layers] if advice.zone_layers != now.zone_layers else []
    match option.kind:
        case "riser":
            out = [*out, risers_text(item, advice.risers_mm, unit)]
        case "seat":
            out = [f"{SEAT_NAMES[advice.seat]}, {layers}"]
        case "sheet":
            out = [
                tr(
                    "foam of {pitch} layers, {layers}",
                    pitch=format_length(option.sheets[0].pitch_mm, unit),
                    layers=layers,
                )
            ]
        case "layers":
            out = [layers]
    text = f"{'; '.join(out)}: {short_text(advice.sitting, unit)}"
    return text[0].upper() + text[1:]


def closing_text(project: Project, closing: Closing | None, ground: Ground) -> str:
    """Return whether it closes, and what comes first."""
    if closing is None:
        return tr("Nothing closes over this panel; hold and tipping count instead.")
    unit = project.units
    what = {"tier": tr("the tier above"), "lid": tr("the lid"), "rim": tr("the drawer")}[ground.bay.above]
    if ground.bay.container.kind != "drawer" and ground.bay.above == "rim":
        what = tr("the case")
    first = closing.first
    if closing.open_mm > 0.05 and first is not None:
        who = _zone_name(project, first.placement, first.zone)
        return tr(
            "Does not close: {what} stays open by {open}. {who} stands {proud} proud; there is room for {room}.",
            what=what,
            open=format_length(closing.open_mm, unit),
            who=who,
            proud=format_length(first.proud_mm, unit),
            room=format_length(closing.room_mm, unit),
        )
    if first is not None:
        more = len({one.placement for one in closing.pressed}) - 1
        others = tr(", and {more} more", more=more) if more else ""
        return tr(
            "Closes. First it meets {zone_name}, pressed {into} into the foam{others}: touched items cannot jump.",
            zone_name=_zone_name(project, first.placement, first.zone),
            into=format_length(first.into_mm, unit),
            others=others,
        )
    return tr(
        "Closes with {spare} to spare over the highest item.", spare=format_length(max(0.0, closing.spare_mm), unit)
    )


def _zone_name(project: Project, key: str, zone: int) -> str:
    item = item_of(project, key.rpartition("#")[0])
    name = f"‘{placement_name(project, key)}’"
    return f"{name} ({item.zones[zone].name})" if len(item.zones) > 1 else name
