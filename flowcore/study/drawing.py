"""The drawing that a study was made of: a process from elsewhere, kept as it came."""

from typing import Annotated, Any

from pydantic import Field, StringConstraints

from flowcore.study.base import Part, Text

Line = Annotated[str, StringConstraints(max_length=20_000)]


class Drawing(Part):
    """A BPMN file line by line, and what was answered (by key) to what it does not say."""

    file: Text = ""
    lines: Annotated[list[Line], Field(min_length=1, max_length=50_000)]
    answers: Annotated[dict[str, Any], Field(max_length=5000)] = {}
