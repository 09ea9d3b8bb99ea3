"""The study document: one module per concept."""

from flowcore.study.document import (
    RunSettings,
    Study,
    elements,
    links_of,
    read_study,
    shares_of,
    types_passing,
    written,
)
from flowcore.study.durations import minutes

__all__ = [
    "RunSettings",
    "Study",
    "elements",
    "links_of",
    "minutes",
    "read_study",
    "shares_of",
    "types_passing",
    "written",
]
