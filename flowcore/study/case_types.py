"""Case types: the kinds of case, each with its own shares, times and colour."""

from typing import Annotated

from pydantic import Field

from flowcore.study.base import Id, Name, Part


class CaseType(Part):
    """A kind of customer, patient or case."""

    id: Id
    name: Name
    colour: Annotated[int, Field(ge=1, le=8)] | None = None
