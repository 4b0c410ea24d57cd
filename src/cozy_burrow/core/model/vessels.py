"""Containers as they are built, and the foam that fills them, as frozen records.

Rim        the opening's outline, in plan coordinates, its bounds' back left corner at (0, 0)
Draft      how far a wall leans inwards going down, in degrees
Base edge  the round between wall and floor, with its radius
Obstacle   what stands into the inside: a rib, a post, a latch bulge, a fixing point of a wall panel
Lid        its own depth, its foam, and how far that may be pressed in
Board      one kind of sheet on the price list          Piece   a sheet or offcut that lies on the shelf
Stores     price list, shelf and suppliers, kept from job to job
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from cozy_burrow.core.model.base import Outline, Record, Ring

ContainerKind = Literal["drawer", "case", "wall"]
Side = Literal["back", "right", "front", "left"]
ObstacleKind = Literal["rib", "post", "latch", "fixing"]
Material = Literal["layered", "cubed", "plain"]
Cutting = Literal["knife", "saw"]
Joint = Literal["butt", "rebate", "mitre"]

SIDES: tuple[Side, ...] = ("back", "right", "front", "left")
Four = tuple[float, float, float, float]  # one figure a side, in the order of SIDES


class Corner(Record, frozen=True, kw_only=True):
    """A corner of an odd rim: its letter, where it lies, and the radius that rounds it off."""

    name: str
    x_mm: float
    y_mm: float
    radius_mm: float = 0.0


class Taped(Record, frozen=True, kw_only=True):
    """A distance between two corners as the tape said it. Corners are meant where both walls would meet."""

    first: str
    second: str
    length_mm: float


class Obstacle(Record, frozen=True, kw_only=True):
    """Something that stands into the inside between two heights above the floor; high None: up to the rim."""

    name: str
    kind: ObstacleKind
    ring: Ring
    low_mm: float = 0.0
    high_mm: float | None = None


class Lid(Record, frozen=True, kw_only=True):
    """A lid above the rim: how deep it is, its foam's kind and thickness, and how far that may be pressed in."""

    depth_mm: float = 0.0
    foam_mm: float = 0.0
    give_mm: float = 0.0
    foam: str = ""
    foam_kg_m3: float = 30.0


class Handle(Record, frozen=True, kw_only=True):
    """Where the handle is: on which wall, how far along it (from the left, or from the back), how high."""

    side: Side = "front"
    along_mm: float = 0.0
    height_mm: float = 0.0


class Frame(Record, frozen=True, kw_only=True):
    """The boards that the fitter builds round a wall panel or a tray: how thick, how joined; back_mm 0: no back."""

    board_mm: Annotated[float, Meta(ge=3, le=60)] = 12.0
    joint: Joint = "butt"
    back_mm: Annotated[float, Meta(ge=0, le=40)] = 4.0


class Container(Record, frozen=True, kw_only=True):
    """The inside of a drawer, case or wall frame.

    The rim is `corners` where there are any, else `outline` (from a card template), else a rectangle of width and
    depth with `corner_radius_mm`. height_mm: from the floor to the rim (a drawer: to the frame above).
    draft_deg, in the order of SIDES; base_corner_radius_mm None: corners keep their radius down to the floor.
    front_lip_mm: how far a drawer's front lip reaches over the opening. down: which side is down on a wall.
    frame: the boards round it, where the fitter builds them. place: where in a cabinet it is, in the owner's words.
    """

    id: str = "container-1"
    name: str = "Drawer"
    kind: ContainerKind = "drawer"
    width_mm: float = 570.0
    depth_mm: float = 390.0
    height_mm: float = 75.0
    corner_radius_mm: float = 0.0
    corners: tuple[Corner, ...] = ()
    taped: tuple[Taped, ...] = ()
    outline: Outline | None = None
    draft_deg: Four = (0.0, 0.0, 0.0, 0.0)
    base_corner_radius_mm: float | None = None
    base_edge_radius_mm: float = 0.0
    obstacles: tuple[Obstacle, ...] = ()
    front_lip_mm: float = 0.0
    lid: Lid | None = None
    handle: Handle | None = None
    empty_mass_g: float | None = None
    hand_side: Side = "front"
    down: Side = "front"
    frame: Frame | None = None
    place: Annotated[str, Meta(max_length=200)] = ""


class Sheet(Record, frozen=True, kw_only=True):
    """One board of foam in an insert: thickness as measured, pitch of its layers, layers of another colour at its base.

    cubed: scored into cells of `cell_mm`. plain: no layers, cut right through; the pitch is then the thickness.
    board_id: the board of the price list that it comes from. colour, base_colour: as `materials` has them, of the
    foam and of the layers of another colour; empty where nobody said.
    """

    name: str = ""
    thickness_mm: float = 50.0
    pitch_mm: float = 10.0
    contrast_layers: int = 0
    material: Material = "layered"
    cell_mm: float = 0.0
    density_kg_m3: float = 30.0
    board_id: str = ""
    colour: str = ""
    base_colour: str = ""


class Board(Record, frozen=True, kw_only=True):
    """One kind of sheet that can be bought, as labelled. price is for a pack; None: not on a price list.

    grain: its blanks may not be turned by a quarter. stiffness_kpa: stress at a quarter of its thickness pressed in.
    """

    id: str
    name: str
    material: Material = "layered"
    thickness_mm: float = 50.0
    pitch_mm: float = 10.0
    contrast_layers: int = 0
    cell_mm: float = 0.0
    width_mm: float = 1200.0
    depth_mm: float = 600.0
    colours: str = ""
    density_kg_m3: float = 30.0
    stiffness_kpa: float = 40.0
    knife: str = "a fresh snap-off blade"
    price: float | None = None
    pack: int = 1
    supplier: str = ""
    grain: bool = False


class Piece(Record, frozen=True, kw_only=True):
    """A sheet or offcut on the shelf as measured: four sides, one diagonal (back left to front right), bows inwards.

    diagonal_mm None: taken as square. bow_mm: how far each edge is hollow in its middle, in the order of SIDES.
    """

    id: str
    board: Board
    sides_mm: Four
    diagonal_mm: float | None = None
    bow_mm: Four = (0.0, 0.0, 0.0, 0.0)
    note: str = ""


class Supplier(Record, frozen=True, kw_only=True):
    """Who sells boards: what a delivery costs, and from which order value it is free."""

    name: str
    delivery: float = 0.0
    free_from: float | None = None


class FitTest(Record, frozen=True, kw_only=True):
    """What a fit coupon said: in this foam, cut with this blade, a pocket larger by best_mm all round holds best."""

    foam: str
    blade: str
    best_mm: float


class PullTest(Record, frozen=True, kw_only=True):
    """What a luggage scale read when a thing was pulled straight out, and what had been estimated, in newtons."""

    foam: str
    blade: str
    thing: str
    estimated_n: float
    measured_n: float


class Stores(Record, frozen=True, kw_only=True):
    """What there is to cut from: price list, shelf, suppliers; what was tried of fits; kept from job to job.

    hour_rate: what an hour of work costs whoever has it made; None: nobody pays for it, and no price is shown.
    blade_price: of one blade. layout_h: hours of measuring and laying out, an insert.
    """

    boards: tuple[Board, ...] = ()
    shelf: tuple[Piece, ...] = ()
    suppliers: tuple[Supplier, ...] = ()
    cutting: Cutting = "knife"
    kerf_mm: float = 3.0
    currency: str = "€"
    fits: tuple[FitTest, ...] = ()
    pull_tests: tuple[PullTest, ...] = ()
    hour_rate: float | None = None
    blade_price: float = 0.0
    layout_h: float = 1.0
