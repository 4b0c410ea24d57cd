"""Kinds of mends: what each is called on its button. `findings/mends` carries them out."""

from __future__ import annotations

from cozy_burrow.core.findings.finding import Mend
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr


class MendKind(Record, frozen=True, kw_only=True):
    """One thing that the program can do about a finding; its text may name what it is done to."""

    name: str
    text: str

    def at(self, target: str) -> Mend:
        """Return this, done to a placement, a pull, an insert or an `item_id#copy`."""
        return Mend(kind=self.name, target=target)


MENDS: dict[str, MendKind] = {}


def mend_kind(name: str, text: str) -> MendKind:
    """Declare a kind. Raises ValueError for a name that is taken."""
    if name in MENDS:
        raise ValueError(name)
    MENDS[name] = MendKind(name=name, text=text)
    return MENDS[name]


MOVE_CLEAR = mend_kind("move_clear", tr("Move ‘{name}’ clear"))
LAY_IN = mend_kind("lay_in", tr("Find it a place"))
LAY_UNDER = mend_kind("lay_under", tr("Lay it under a shallow item"))
FEWER_LAYERS = mend_kind("fewer_layers", tr("Leave the floor in"))
LOWER_SEAT = mend_kind("lower_seat", tr("Sink it deeper"))
SEAT_BY_RULE = mend_kind("seat_by_rule", tr("Seat it by rule"))
SEAT_JUDGED = mend_kind("seat_judged", tr("Seat it by judgement"))
AS_ADVISED = mend_kind("as_advised", tr("Seat it as advised"))
ON_FACE = mend_kind("on_face", tr("Lay it on its face"))
ON_EDGE = mend_kind("on_edge", tr("Stand it on edge in a slit"))
FIT_SNUG = mend_kind("fit_snug", tr("Cut its pocket snug"))
FIT_LINE = mend_kind("fit_line", tr("Cut its pocket on the line"))
ADD_PULL = mend_kind("add_pull", tr("Give it the best pull"))
REMOVE_PULL = mend_kind("remove_pull", tr("Take the finger pull away"))
THINNER_STACK = mend_kind("thinner_stack", tr("Take the lowest sheet out"))
LIFT_STRAPS = mend_kind("lift_straps", tr("Give it a lift strap"))
