"""The site plan: places, and the ways between them."""

from typing import Annotated, Literal

from pydantic import Field

from flowcore.study.base import Count, Id, Name, Part


class Place(Part):
    """A named area with a position in metres, and how many cases have room in it."""

    id: Id
    name: Name
    x: float
    y: float
    capacity: Count | None = None


class Pair(Part):
    """A measured way between two places, in metres, the same in both directions."""

    from_: Id = Field(alias="from")
    to: Id
    metres: Annotated[float, Field(ge=0)]


class Site(Part):
    """Places and how far apart they are; walking speed in metres a second."""

    places: list[Place] = []
    distance: Literal["straight", "rectangular"] = "straight"
    pairs: list[Pair] = []
    walking_speed: Annotated[float, Field(gt=0, le=10)] = 1.2
