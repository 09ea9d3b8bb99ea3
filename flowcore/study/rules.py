"""Rules: which way a case takes, told by facts about it and about the service."""

from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator
from typing_extensions import TypeAliasType

from flowcore.problems import trouble
from flowcore.study.base import Part

_FACTS = r"^(type|message|in-system|waited-here|waited|time-of-day|weekday|(trait|visits|line|free):.+)$"
Fact = Annotated[str, StringConstraints(pattern=_FACTS, max_length=120)]
Single = Annotated[str, StringConstraints(max_length=64)] | float
Value = Single | Annotated[list[Single], Field(max_length=1000)]


class Condition(Part):
    """One fact held against a value."""

    fact: Fact
    is_: Literal["equal", "not", "under", "at-most", "over", "at-least", "in"] = Field(alias="is")
    value: Value

    @property
    def about(self) -> str:
        """The id that the fact is about, empty where it is about none."""
        return self.fact.partition(":")[2]

    @property
    def kind(self) -> str:
        """The fact without what it is about."""
        return self.fact.partition(":")[0]

    @model_validator(mode="after")
    def _list_where_in(self) -> Self:
        if (self.is_ == "in") != isinstance(self.value, list):
            raise trouble('"in" asks for a list, and the others for one value.', "Give the value accordingly.")
        return self


class Rule(Part):
    """All or any of some conditions, each a fact or a rule again."""

    all: "list[Clause] | None" = None
    any: "list[Clause] | None" = None

    @model_validator(mode="after")
    def _one_of(self) -> Self:
        if (self.all is None) == (self.any is None):
            raise trouble('A rule has either "all" or "any".', "Give one of the two.")
        if not (self.all or self.any):
            raise trouble("The rule has no conditions.", "Add one.")
        return self

    @property
    def clauses(self) -> "list[Clause]":
        """The conditions, whether all or any must hold."""
        return self.all or self.any or []


Clause = TypeAliasType("Clause", "Condition | Rule")

Rule.model_rebuild()


def conditions_of(rule: Rule) -> list[Condition]:
    """Return every condition of a rule, also of the rules in it."""
    return [
        condition
        for clause in rule.clauses
        for condition in ([clause] if isinstance(clause, Condition) else conditions_of(clause))
    ]
