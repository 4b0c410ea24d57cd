"""Starts the window, or paints it once into a picture; what is seen at once comes first, all else is imported later."""

from __future__ import annotations

from cozy_burrow.app.desk import first_sight
from cozy_burrow.app.start import Start


def start(wanted: Start) -> int:
    """Show the window and return the exit status. Raises UnusableInput before the window is shown."""
    if wanted.shot is not None:
        from cozy_burrow.app.opening import take_picture

        return take_picture(wanted, wanted.shot)
    sight = seen_at_once(wanted)
    try:
        from cozy_burrow.app.opening import run

        return run(wanted, sight)
    finally:
        if sight is not None:
            sight.close()


def seen_at_once(wanted: Start) -> first_sight.Still | None:
    """Show the picture that was kept of this very document; None where there is none."""
    place = first_sight.place_of(wanted)
    if place is None or not place.is_file():
        return None
    from cozy_burrow.app.look.display import choose_platform

    choose_platform(for_picture=False)
    return first_sight.show(place, wanted.size)
