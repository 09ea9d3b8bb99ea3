"""The study document: one module per concept."""

from flowcore.study.document import (
    Study,
    checkpoints_of,
    elements,
    links_of,
    may_take,
    read_study,
    shares_of,
    side_ways,
    types_passing,
    written,
)
from flowcore.study.durations import minutes
from flowcore.study.plain import read_json
from flowcore.study.runs import RunSettings

__all__ = [
    "RunSettings",
    "Study",
    "checkpoints_of",
    "elements",
    "links_of",
    "may_take",
    "minutes",
    "read_json",
    "read_study",
    "shares_of",
    "side_ways",
    "types_passing",
    "written",
]
