"""Where values that were taken from data come from."""

from typing import Annotated

from pydantic import Field, StringConstraints

from flowcore.study.base import Part, Text
from flowcore.study.calendars import Date

Pointer = Annotated[str, StringConstraints(pattern=r"^/", max_length=300)]
"""A place of the document (RFC 6901), where elements of lists are named by their ids."""


class Source(Part):
    """What a value was taken from: a file, of so many of its rows, on a date, by which method in words."""

    file: Text
    rows: Annotated[int, Field(ge=0, le=1_000_000_000)]
    date: Date
    method: Text = ""
