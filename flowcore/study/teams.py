"""Teams: interchangeable people, places or equipment."""

from typing import Annotated, Literal

from pydantic import Field

from flowcore.study.base import Id, Money, Name, Part


class Team(Part):
    """Members who are always there, with what an hour of each costs."""

    id: Id
    name: Name
    kind: Literal["people", "places", "equipment"] = "people"
    size: Annotated[int, Field(ge=0, le=100_000)] = 1
    rate: Money = 0.0
