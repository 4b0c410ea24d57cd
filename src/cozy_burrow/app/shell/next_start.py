"""What takes effect at the next start only: the language, and the size of type."""

from __future__ import annotations

from cozy_burrow.app.desk.settings import LANGUAGE, TYPE_SCALE
from cozy_burrow.app.frame.front import Front
from cozy_burrow.core.tongue import LANGUAGE_NAMES, language, languages, tr

_STEP, _MOST = 0.25, 2.0


def step_language(front: Front) -> None:
    """Speak the next language from the next start on: texts are made when the program starts."""
    known = languages()
    code = known[(known.index(language()) + 1) % len(known)] if language() in known else known[0]
    front.settings.set(LANGUAGE, code)
    front.say(tr("{language} from the next start on", language=LANGUAGE_NAMES.get(code, code)))


def step_type_scale(front: Front) -> None:
    """Make type and controls larger, after twice the size the first again."""
    scale = front.type_scale + _STEP
    scale = 1.0 if scale > _MOST else scale
    front.settings.set(TYPE_SCALE, scale)
    front.say(tr("Type at {scale:.0%} from the next start on", scale=scale))
