"""Steps: the things that happen to a case, and the ways between them."""

from typing import Annotated, Literal

from pydantic import Discriminator, Field, Tag
from typing_extensions import TypeAliasType

from flowcore.study.base import Id, Name, Part, Share
from flowcore.study.distributions import Distribution


class Link(Part):
    """The way to the next step, with its share and its travel time."""

    to: Id
    share: Share | None = None
    share_by_type: dict[Id, Share] | None = None
    travel: Distribution | None = None


class Need(Part):
    """So many members of a team, asked for at once."""

    team: Id
    count: Annotated[int, Field(ge=1, le=10_000)] = 1


class WorkByType(Part):
    """A distribution of its own for some case types, another for the rest."""

    by_type: dict[Id, Distribution]
    otherwise: Distribution


def _work_form(value: object) -> str:
    by_type = isinstance(value, WorkByType) or (isinstance(value, dict) and "dist" not in value)
    return "for-each-type" if by_type else "for-all"


Work = TypeAliasType(
    "Work",
    Annotated[
        Annotated[WorkByType, Tag("for-each-type")] | Annotated[Distribution, Tag("for-all")],
        Discriminator(_work_form),
    ],
)


class Line(Part):
    """How cases wait at a step."""

    discipline: Literal["first-come"] = "first-come"


class _Passage(Part):
    id: Id
    name: Name
    next: list[Link] = []


class Serve(_Passage):
    """Work by people, in places; without needs it runs by itself and never queues."""

    kind: Literal["serve"]
    work: Work
    needs: list[Need] = []
    line: Line = Line()


class Delay(_Passage):
    """Time passes and nobody is needed."""

    kind: Literal["delay"]
    time: Work


class Choose(_Passage):
    """Ways part here: one of several is taken, by share."""

    kind: Literal["choose"]
    pick: Literal["share"] = "share"


class Exit(Part):
    """The case leaves, with this outcome."""

    id: Id
    name: Name
    kind: Literal["exit"]
    abandoned: bool = False


Step = TypeAliasType("Step", Annotated[Serve | Delay | Choose | Exit, Discriminator("kind")])
