"""What can go wrong that is not a bug.

BurrowError
├── UnusableInput(what, where, remedy)   the input cannot be used; exit status 2
│   └── Gone(what)                       what was meant is not there any more: the plan has changed since
└── Cancelled                            the person stopped a running search
Anything else that is raised is a bug and goes to the crash handler.
"""

from __future__ import annotations

from cozy_burrow.core.tongue import tr

LONGEST_QUOTED = 40


def quoted(text: str) -> str:
    """Return what somebody wrote, in quotation marks, cut short where it is long: a sentence must stay one."""
    text = " ".join(text.split())
    return f"'{text}'" if len(text) <= LONGEST_QUOTED else f"'{text[:LONGEST_QUOTED]}…'"


class BurrowError(Exception):
    """Root of everything this program raises on purpose."""


class UnusableInput(BurrowError):
    """Input that cannot be used; says what, where and what to do in one line."""

    def __init__(self, what: str, *, where: str = "", remedy: str = "") -> None:
        self.what, self.where, self.remedy = what, where, remedy
        super().__init__(self.sentence())

    def sentence(self) -> str:
        """Return the one line a person reads: `where: what; remedy`."""
        text = f"{self.where}: {self.what}" if self.where else self.what
        if self.remedy:
            text += f"; {self.remedy}"
        return " ".join(text.split())

    def at(self, where: str) -> UnusableInput:
        """Return the same complaint with a wider place put in front."""
        return UnusableInput(self.what, where=f"{where}, {self.where}" if self.where else where, remedy=self.remedy)


class Gone(UnusableInput):
    """What was meant is not in the project any more: it was taken out, or the step that brought it was undone."""

    def __init__(self, what: str) -> None:
        super().__init__(
            tr("{what} is not there any more", what=what), remedy=tr("look at the plan as it is now and choose again")
        )


class Cancelled(BurrowError):
    """The person stopped a running search."""
