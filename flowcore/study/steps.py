"""Steps: the things that happen to a case, and the ways between them."""

from typing import Annotated, Literal, Self

from pydantic import Discriminator, Field, Tag, model_validator
from typing_extensions import TypeAliasType

from flowcore.problems import trouble
from flowcore.study.base import Id, Money, Name, Part, Share
from flowcore.study.calendars import TimeOfDay
from flowcore.study.case_types import TraitStart
from flowcore.study.distributions import Distribution
from flowcore.study.durations import Duration, minutes
from flowcore.study.rules import Rule


class Need(Part):
    """So many members of a team, or of a skill that several teams have, asked for at once."""

    team: Id | None = None
    skill: Id | None = None
    prefer: list[Id] = []
    count: Annotated[int, Field(ge=1, le=10_000)] = 1
    as_: Id | None = Field(None, alias="as")
    keep_until: Id | None = None
    same_as: Id | None = None

    @model_validator(mode="after")
    def _one_of(self) -> Self:
        if (self.team is None) == (self.skill is None):
            raise trouble("A need asks for either a team or a skill.", "Give one of the two.")
        return self


class Link(Part):
    """The way to the next step, with its share or rule, its travel time and its escort."""

    to: Id
    share: Share | None = None
    share_by_type: dict[Id, Share] | None = None
    chance: Share | None = None
    when: Rule | None = None
    otherwise: bool = False
    travel: Literal["walk"] | Distribution | None = None
    escort: Need | None = None


class WorkByType(Part):
    """Distributions for some categories of a trait or some case types, another for the rest."""

    by_trait: dict[Id, dict[str, Distribution]] = {}
    by_type: dict[Id, Distribution] = {}
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

    discipline: Literal["first-come", "last-come", "priority", "due", "shortest-work", "random"] = "first-come"
    max: Annotated[int, Field(ge=0, le=10_000_000)] | None = None
    when_full: Literal["block", "turn-away"] = "block"
    full_to: Id | None = None
    balk_at: Annotated[int, Field(ge=1, le=10_000_000)] | None = None
    balks_to: Id | None = None
    min_wait: Duration | None = None
    patience: Distribution | None = None
    gives_up_to: Id | None = None
    shared: Id | None = None


class PlaceOption(Part):
    """One of several places where a step can happen."""

    place: Id
    share: Share | None = None


class _Step(Part):
    id: Id
    name: Name
    place: Id | None = None
    places: list[PlaceOption] = []
    pick_place: Literal["shortest-line", "nearest", "share", "in-turn"] = "shortest-line"
    checkpoint: bool = False


class _Passage(_Step):
    next: list[Link] = []


Overtime = Literal["yes", "no", "only"]


class _Activity(_Passage):
    open: Id | None = None
    cost: Money = 0.0
    value: Literal["adds", "necessary", "waste"] | None = None


class Serve(_Activity):
    """Work by people, in places; without needs it runs by itself and never queues.

    `priority` is added to that of the case as long as it is here: the higher goes first where people are asked for.
    """

    kind: Literal["serve"]
    overtime: Overtime = "yes"
    work: Work
    needs: list[Need] = []
    line: Line = Line()
    changeover: Distribution | None = None
    changeover_cost: Money = 0.0
    when_blocked: Literal["frees-people", "keeps-people"] = "frees-people"
    priority: Annotated[float, Field(ge=-1e6, le=1e6)] = 0.0
    reserve: bool = False
    preempts: bool = False


class Delay(_Activity):
    """Time passes and nobody is needed."""

    kind: Literal["delay"]
    overtime: Overtime = "yes"
    time: Work


class Clears(Part):
    """When a signal clears: every so often, at times of day, when another step ends, when so many wait, or by message.

    A message lets the very case go on that it concerns: it comes when a branch or a companion of the case comes to a
    step, or the case itself; `also` names further steps whose message does so too.
    """

    every: Duration | None = None
    first: Duration | None = None
    at: list[TimeOfDay] = []
    after_step: Id | None = None
    waiting: Annotated[int, Field(ge=1, le=1_000_000)] | None = None
    message: Id | None = None
    also: list[Id] = []

    @property
    def messages(self) -> list[Id]:
        """The steps whose message lets a case go, each once."""
        return [] if self.message is None else list(dict.fromkeys([self.message, *self.also]))

    @model_validator(mode="after")
    def _one_of(self) -> Self:
        ways = (self.every, self.at or None, self.after_step, self.waiting, self.message)
        if sum(way is not None for way in ways) != 1:
            raise trouble(
                "A signal clears in exactly one way.",
                'Give one of "every", "at", "after_step", "waiting" and "message".',
            )
        if self.also and self.message is None:
            raise trouble("There are further messages, and no first one.", 'Give "message" the first of them.')
        if self.every is not None and minutes(self.every) <= 0:
            raise trouble("The signal clears without a pause.", 'Give a time in between, such as "15 min".')
        return self


class Signal(_Activity):
    """Cases wait here until the signal clears, or until a calendar opens."""

    kind: Literal["signal"]
    clears: Clears | None = None
    lets_go: Annotated[int, Field(ge=1, le=1_000_000)] | None = None

    @model_validator(mode="after")
    def _each_by_its_own_message(self) -> Self:
        by_message = self.clears is not None and self.clears.message is not None
        if by_message and (self.open is not None or self.lets_go is not None):
            raise trouble(
                "A message lets one case go, whenever it comes.", 'Take the hours, or "lets_go", away from this signal.'
            )
        return self


class Choose(_Passage):
    """Ways part here: one of several is taken."""

    kind: Literal["choose"]
    pick: Literal["share", "rule", "shortest-line", "in-turn"] = "share"


class Fork(_Passage):
    """The case goes along several ways at once, until they come together at the join."""

    kind: Literal["fork"]
    join: Id


class Join(_Passage):
    """Waits for all branches that were taken."""

    kind: Literal["join"]


class Gather(_Passage):
    """Waits until so many are there, or a time has passed, and sends them on as one."""

    kind: Literal["gather"]
    count: Annotated[int, Field(ge=1, le=1_000_000)]
    or_after: Duration | None = None


class Scatter(_Passage):
    """Undoes the last gathering."""

    kind: Literal["scatter"]


class Add(Part):
    """So much more (or less) of a number trait."""

    add: float


class SetTraits(_Passage):
    """Writes traits of the case."""

    kind: Literal["set"]
    traits: dict[Id, Add | TraitStart]


class Exit(_Step):
    """The case leaves, with this outcome."""

    kind: Literal["exit"]
    abandoned: bool = False
    penalty: Money = 0.0


Step = TypeAliasType(
    "Step",
    Annotated[
        Serve | Delay | Signal | Choose | Fork | Join | Gather | Scatter | SetTraits | Exit, Discriminator("kind")
    ],
)
