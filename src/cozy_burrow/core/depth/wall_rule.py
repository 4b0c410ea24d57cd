"""How much foam must stand between two pockets: a base, more where both are deep."""

from __future__ import annotations

from cozy_burrow.core.model.records import Rules

# Base widths that practitioners use: compact 10 to 12, travel about 19.
BASE_MM = {"compact": 10.0, "standard": 12.0, "travel": 19.0}
FREE_DEPTH_MM = 25.0  # down to here the base holds
GROWTH = 0.2  # each mm deeper asks for 0.2 mm more: a wall is then never higher than five times its base's growth


def depth_rule_mm(depth_mm: float, rules: Rules) -> float:
    """Return the wall that the rule asks for at this depth of both pockets: the fitter's own base, or the school's."""
    base = BASE_MM[rules.wall_school] if rules.wall_mm is None else rules.wall_mm
    return base + GROWTH * max(0.0, depth_mm - FREE_DEPTH_MM)


def wanted_wall_mm(depth_mm: float, rules: Rules) -> float:
    """Return the wall that must stay: the fitter's own figure at every depth, else the rule by depth."""
    return rules.wall_mm if rules.wall_mm is not None else depth_rule_mm(depth_mm, rules)
