"""Case types: the kinds of case; and traits: what a single case carries."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from flowcore.problems import trouble
from flowcore.study.base import Id, Money, Name, Part
from flowcore.study.distributions import NumberDistribution
from flowcore.study.durations import Duration


class Categories(Part):
    """Chances of categories: a start that is drawn for each case."""

    shares: dict[str, Annotated[float, Field(ge=0, le=1)]]


TraitStart = NumberDistribution | Annotated[str, Field(max_length=64)] | Categories
"""A number or its distribution, the name of a category, or chances of several."""


class CaseType(Part):
    """A kind of customer, patient or case."""

    id: Id
    name: Name
    colour: Annotated[int, Field(ge=1, le=8)] | None = None
    priority: Annotated[float, Field(ge=-1e6, le=1e6)] = 0.0
    due: Duration | None = None
    value: Money = 0.0
    waiting_cost: Money = 0.0
    inside_cost: Money = 0.0
    traits: dict[Id, TraitStart] = {}


class Trait(Part):
    """A number or a category that a case carries."""

    id: Id
    name: Name
    kind: Literal["number", "category"] = "number"
    values: list[Annotated[str, Field(min_length=1, max_length=64)]] = []
    start: TraitStart | None = None

    @model_validator(mode="after")
    def _has_values(self) -> Self:
        if self.kind == "category" and not self.values:
            raise trouble("A category has no values to choose from.", "List its values.")
        return self
