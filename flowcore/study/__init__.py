"""The study document: one module per concept."""

from flowcore.study.document import (
    StudyDocument,
    checkpoints_of,
    elements,
    read_study,
    written,
)
from flowcore.study.durations import minutes
from flowcore.study.plain import read_json
from flowcore.study.runs import RunSettings

__all__ = [
    "RunSettings",
    "StudyDocument",
    "checkpoints_of",
    "elements",
    "minutes",
    "read_json",
    "read_study",
    "written",
]
