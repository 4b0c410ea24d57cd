"""The nouns of the job as frozen records: what a kit, a container, a stack and a plan are made of.

Lengths in millimetres, angles in degrees, masses in grams. Plan coordinates: x to the right, y towards the
person, z down from the foam's top surface; an angle turns clockwise as seen from above. Heights inside an
item (underside, top) go up from the item's datum plane.

Item      one thing that goes in          Zone       a part of an item with one section and thickness
Sheet     one board of foam               Layer      one of the equal thicknesses it peels in, 1 = top
Insert    a liftable stack of sheets      Placement  where one copy of an item lies in an insert
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from cozy_burrow.core.model.base import Outline, Point, Record, Ring
from cozy_burrow.core.model.kept import MOST_CALLS, Called, GluedIn
from cozy_burrow.core.model.told import told
from cozy_burrow.core.model.vessels import Container, ContainerKind, Sheet

__all__ = [  # records of the other modules that nearly everyone who takes these wants too
    "Called", "Container", "ContainerKind", "GluedIn", "Outline", "Point", "Record", "Ring", "Sheet",
]  # fmt: skip

MOST_EASED_MM = 10.0  # more is another pocket
MOST_EASED_SIDES = 16
MOST_FULL_BYTES = 2_000_000
Section = Literal["flat", "round", "tapered"]
Use = Literal["daily", "weekly", "rare", "expected"]
Seat = Literal["judged", "half", "flush", "proud", "lid", "deep"]
Fit = Literal["snug", "line", "easy"]
HeldBy = Literal["hook", "hollow"]
Marking = Literal["template", "marker", "knife", "card", "scribe"]
WallSchool = Literal["compact", "standard", "travel"]
Way = Literal["box", "round", "stations", "svg", "dxf", "drawn", "photo", "scan", "tracing"]

# Those that a kit may name; where none is named the program judges. "judged" on a placement sets others aside.
SEATS: tuple[Seat, ...] = ("half", "flush", "proud", "lid", "deep")
USES: tuple[Use, ...] = ("daily", "weekly", "rare", "expected")


class Zone(Record, frozen=True, kw_only=True):
    """A region of the outline with one section.

    under_mm, top_mm: heights about the datum plane. A tapered zone has them at the first end of its axis and
    `under_end_mm`, `top_end_mm` at the second. A round zone is a lying body of revolution about `axis`
    (None: the region's long axis), as high as `top_mm - under_mm` where it is widest.
    """

    name: str
    region: Outline
    section: Section
    under_mm: float
    top_mm: float
    under_end_mm: float | None = None
    top_end_mm: float | None = None
    axis: tuple[Point, Point] | None = None

    @property
    def lowest_mm(self) -> float:
        """Height of the lowest point of the underside."""
        return self.under_mm if self.under_end_mm is None else min(self.under_mm, self.under_end_mm)

    @property
    def highest_mm(self) -> float:
        """Height of the highest point of the top."""
        return self.top_mm if self.top_end_mm is None else max(self.top_mm, self.top_end_mm)

    @property
    def thickness_mm(self) -> float:
        """Largest thickness of the zone."""
        first = self.top_mm - self.under_mm
        if self.under_end_mm is None or self.top_end_mm is None:
            return first
        return max(first, self.top_end_mm - self.under_end_mm)


class Provenance(Record, frozen=True, kw_only=True):
    """Where a shape came from and how sure it is."""

    way: Way
    source: str = ""
    uncertainty_mm: float = 0.5


class Photo(Record, frozen=True, kw_only=True):
    """The cut-out of an item's photo in its own coordinates, light taken out. jpeg: its bytes; from (left, top) on."""

    jpeg: bytes
    left_mm: float
    top_mm: float
    px_per_mm: float


class Item(Record, frozen=True, kw_only=True):
    """One kind of thing that goes in, `quantity` times. Its coordinates are centred on the outline's bounds.

    fit: how tightly its pocket holds it; None: by the rules. held_by: what fingers find on it without any pull, a hook
    or a hollow handle. material, colour: of its parts in their order, parted by a slash; what is not said is guessed.
    photo: what it looks like from above. kept_as: the key of what it is among My things, where it is kept there.
    """

    id: str
    name: str
    outline: Outline
    zones: tuple[Zone, ...]
    provenance: Provenance
    group: str = ""
    quantity: Annotated[int, Meta(ge=1, le=100_000)] = 1
    use: Use = "weekly"
    mass_g: Annotated[float, Meta(ge=0, le=1_000_000)] | None = None
    notes: str = ""
    seat: Seat | None = None
    fit: Fit | None = None
    held_by: HeldBy | None = None
    material: str = ""
    colour: str = ""
    photo: Photo | None = None
    kept_as: Annotated[str, Meta(max_length=200)] = ""

    @property
    def thickness_mm(self) -> float:
        """Height from the lowest underside to the highest top."""
        return max(zone.highest_mm for zone in self.zones) - min(zone.lowest_mm for zone in self.zones)


class EasedSide(Record, frozen=True, kw_only=True):
    """A pocket's wall at one side, shaved or, negative, with a strip glued along it.

    side_deg: which way that wall lies from the middle of the item, in its coordinates.
    """

    side_deg: Annotated[float, Meta(ge=-360, le=360)]
    by_mm: Annotated[float, Meta(ge=-MOST_EASED_MM, le=MOST_EASED_MM)]


class Placement(Record, frozen=True, kw_only=True):
    """One copy of an item in an insert; x, y is where the item's origin lies.

    seat overrides the item's; zone_layers overrides the seat: layers taken out under each zone, by hand. risers_mm:
    what is put back on the floor under each of these zones. eased_mm: how much wider all round its pocket is than by
    its fit, since it was shaved at the bench; negative: foam was glued in. eased_sides: at one side only.
    """

    id: str
    item_id: str
    copy: int
    x_mm: float
    y_mm: float
    angle_deg: float = 0.0
    locked: bool = False
    seat: Seat | None = None
    zone_layers: tuple[int, ...] | None = None
    risers_mm: tuple[float, ...] | None = None
    eased_mm: Annotated[float, Meta(ge=-MOST_EASED_MM, le=MOST_EASED_MM)] = 0.0
    eased_sides: Annotated[tuple[EasedSide, ...], Meta(max_length=MOST_EASED_SIDES)] = ()


class FingerPull(Record, frozen=True, kw_only=True):
    """Room for fingers beside the pockets it serves.

    circle_pair, circle, notch_pair, notch: `points_mm` are centres in the coordinates of the item of the one placement
    served, and move with it; a circle lies half in its pocket, a notch three quarters outside. trench: two ends of a
    straight band in insert coordinates. press: the floor between two points of the item's axis, from one end inwards,
    is deeper: a push there lifts the other end. ribbon: laid under the item from one side to the other, nothing is cut.
    layers: how deep it goes; None follows the pockets that it serves.
    """

    id: str
    kind: str
    serves: tuple[str, ...]
    points_mm: tuple[Point, ...]
    width_mm: float
    layers: int | None = None


class Insert(Record, frozen=True, kw_only=True):
    """A liftable stack of sheets, top first, with what lies in it. Its origin is its container's.

    Inserts of one container are its tiers, the top one first. whole_bottom: the lowest sheet is never cut.
    lift_straps: a strap runs under it from side to side. spare: areas kept free for what comes later. cut_order: keys
    of cuts in the order in which the fitter wants them; none: as advised. glued: foam that was put back where another
    thing had lain. full_photo: a JPEG of it with everything in its place, that roll calls are compared with;
    full_of: of which layout that is.
    """

    id: str
    name: str
    container_id: str = "container-1"
    sheets: tuple[Sheet, ...] = (Sheet(),)
    press_fit_mm: Annotated[float, Meta(ge=0, le=20)] = 0.0
    whole_bottom: bool = False
    lift_straps: bool = False
    spare: tuple[Ring, ...] = ()
    placements: tuple[Placement, ...] = ()
    pulls: tuple[FingerPull, ...] = ()
    section_line: tuple[Point, Point] | None = None
    cut_order: tuple[Annotated[str, Meta(max_length=200)], ...] = ()
    glued: Annotated[tuple[GluedIn, ...], Meta(max_length=5_000)] = ()
    full_photo: Annotated[bytes, Meta(max_length=MOST_FULL_BYTES)] | None = None
    full_of: Annotated[str, Meta(max_length=64)] = ""


class Rules(Record, frozen=True, kw_only=True):
    """What the fitter asks of every plan. None leaves a figure to the program's own rule.

    snug_mm, easy_mm: how much smaller or larger all round a pocket is by its fit. tip_mm: breadth of the marker's line;
    kerf_mm: width of foam that the blade or wire takes away; lean_deg: of pen and knife. knife_radius_mm: the tightest
    bend that the blade follows. finger_mm: breadth of a fingertip, gloved or not. friction: foam on the things. jolt:
    how many times its weight pulls at a thing on the road. guides: whether templates show where parts lie that float
    over the foam, for which nothing is cut.
    """

    wall_mm: Annotated[float, told("Wall", "stays", "between pockets", least=0, most=200)] | None = None
    wall_school: WallSchool = "standard"
    edge_mm: Annotated[float, told("Edge", "stays", "from a pocket to the insert's edge", least=0, most=500)] = 15.0
    floor_layers: (
        Annotated[int, told("Floor, layers", "stays", "that stay at the bottom", unit="", least=0, most=1000)] | None
    ) = None
    least_foam_mm: Annotated[float, told("Least foam", "stays", "thinner fins are cut away", least=0, most=100)] = 3.0
    allowance_mm: (
        Annotated[float, told("Allowance", "fit", "one figure for everything; negative: snug", least=-10, most=50)]
        | None
    ) = None
    seat: Seat | None = None
    snug_mm: Annotated[float, told("Tight fit by", "fit", "smaller all round than the item", least=0, most=20)] = 1.0
    easy_mm: Annotated[float, told("Loose fit by", "fit", "larger all round than the item", least=0, most=20)] = 1.0
    marking: Marking = "template"
    tip_mm: Annotated[float, told("Pen line", "cut", "how broad the marker draws", least=0, most=20)] = 0.8
    kerf_mm: Annotated[float, told("Kerf", "cut", "foam that blade or wire removes", least=0, most=20)] = 0.0
    lean_deg: Annotated[float, told("Lean", "cut", "of pen and knife", unit="°", least=0, most=30)] = 0.0
    knife_radius_mm: Annotated[float, told("Tightest curve", "cut", "that the blade follows", least=0, most=50)] = 1.5
    finger_mm: Annotated[float, told("Fingertip", "hand", "its breadth, with gloves if worn", least=8, most=40)] = 16.0
    friction: Annotated[float, told("Friction", "road", "of foam on the items", unit="", least=0.05, most=2)] = 0.5
    jolt: Annotated[float, told("Jolt", "road", "times its weight", unit="", least=1, most=100)] = 3.0
    circle_mm: Annotated[float, told("Circle", "hand", "how wide a round pull is", least=10, most=150)] = 40.0
    notch_mm: Annotated[float, told("Notch", "hand", "how wide a melted notch is", least=10, most=150)] = 28.0
    trench_mm: Annotated[float, told("Trench", "hand", "how wide it is", least=10, most=150)] = 25.0
    proud_to_hold_mm: Annotated[
        float, told("Grip from", "hand", "sticking up so far, an item needs no pull", least=0, most=100)
    ] = 8.0
    two_lift_kg: Annotated[
        float, told("Two people", "road", "lift what is heavier; your local rule counts", unit="kg", least=1, most=100)
    ] = 20.0
    guides: Annotated[bool, told("Templates show what floats", "cut", "a thin line of dashes and dots, not cut")] = (
        False
    )


class Project(Record, frozen=True, kw_only=True):
    """The whole document. roll_calls: those that were written down, the last one last."""

    title: str = "Untitled"
    units: Literal["mm", "inch"] = "mm"
    items: tuple[Item, ...] = ()
    containers: tuple[Container, ...] = (Container(),)
    inserts: tuple[Insert, ...] = (Insert(id="insert-1", name="Drawer"),)
    rules: Rules = Rules()
    roll_calls: Annotated[tuple[Called, ...], Meta(max_length=MOST_CALLS)] = ()
