"""All tests. What is tried by chance has no bound by the clock, by whatever they are started."""

from hypothesis import settings

if settings().deadline is not None:  # else a runner has said already how it tries
    settings.register_profile("no clock", deadline=None)
    settings.load_profile("no clock")
