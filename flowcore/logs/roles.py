"""What the columns of a log stand for, and what its words for what happened mean."""

from enum import StrEnum
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from flowcore.logs.moments import Form

Word = Annotated[str, StringConstraints(max_length=400)]
Separator = Literal[",", ";", "\t", "|"]
MOST_COLUMNS = 200


class Role(StrEnum):
    """What a column stands for."""

    CASE = "case"
    STEP = "step"
    CAME = "came"
    BEGAN = "began"
    ENDED = "ended"
    AT = "at"
    HAPPENED = "happened"
    WHO = "who"
    TYPE = "type"
    PLANNED = "planned"
    REPLICATION = "replication"
    TRAIT = "trait"
    NOTHING = "nothing"


TIMES = (Role.CAME, Role.BEGAN, Role.ENDED, Role.AT, Role.PLANNED)


class Happening(StrEnum):
    """What a word of a log says that happened to a case at a step."""

    CAME = "came"
    BEGAN = "began"
    PAUSED = "paused"
    RESUMED = "resumed"
    WORKED = "worked"
    ENDED = "ended"
    GAVE_UP = "gave-up"
    TURNED_AWAY = "turned-away"
    NOTHING = "nothing"


class Chosen(BaseModel):
    """What an analyst has chosen: unknown keys are an error that names them."""

    model_config = ConfigDict(extra="forbid")


class Column(Chosen):
    """A column by its name, what it stands for, and how it writes times where it has any."""

    name: Word
    role: Role = Role.NOTHING
    form: Form | None = None


class Reading(Chosen):
    """How a file is read, as it was recognised or as the analyst has it.

    A file of text has an `encoding`, a `separator` and a `decimal` mark; a workbook a `sheet`. Times that say how far
    they are from UTC are moved to the wall clock of a `zone`, or taken as written where none is given. `happenings` are
    what the words of the column for what happened mean; without such a column a lone time is that of `alone`.
    """

    kind: Literal["csv", "xlsx", "xes"]
    encoding: Word = "utf-8"
    separator: Separator = ","
    decimal: Literal[".", ","] = "."
    sheet: Word = ""
    has_header: bool = True
    zone: Word = ""
    columns: Annotated[list[Column], Field(max_length=MOST_COLUMNS)]
    happenings: dict[Word, Happening] = {}
    alone: Literal[Happening.BEGAN, Happening.ENDED] = Happening.ENDED

    def places(self, role: Role) -> list[int]:
        """Return at which places columns with a role stand."""
        return [place for place, column in enumerate(self.columns) if column.role is role]

    def place(self, role: Role) -> int | None:
        """Return at which place the column with a role stands, None where there is none."""
        return next(iter(self.places(role)), None)

    @property
    def tells_visits(self) -> bool:
        """Whether every row is a visit, not a moment."""
        return any(self.places(role) for role in (Role.BEGAN, Role.ENDED)) or not self.places(Role.AT)


HEADINGS: dict[Role, tuple[str, ...]] = {
    Role.CASE: ("case", "ticket", "call", "visit", "token", "number", "id", "case id", "case concept name"),
    Role.STEP: ("step", "activity", "service", "task", "concept name", "queue", "station", "desk", "menu"),
    Role.CAME: ("arrived", "came", "arrival", "issued", "queued", "joined", "enqueued", "printed", "taken"),
    Role.BEGAN: ("began", "start", "begin", "begun", "started", "called", "answered", "served from", "from"),
    Role.ENDED: ("ended", "end", "finish", "finished", "complete", "completed", "served until", "hung up", "until"),
    Role.AT: ("time", "timestamp", "time timestamp", "date", "when", "moment"),
    Role.HAPPENED: (
        "event",
        "transition",
        "lifecycle transition",
        "status",
        "what",
        "happened",
        "outcome",
        "result",
        "remark",
    ),
    Role.WHO: (
        "who",
        "member",
        "resource",
        "org resource",
        "agent",
        "clerk",
        "staff",
        "employee",
        "person",
        "user",
        "desk",
        "counter",
    ),
    Role.TYPE: ("type", "errand", "case type", "category", "reason", "subject", "product", "kind"),
    Role.REPLICATION: ("replication", "case replication"),
    Role.PLANNED: ("planned", "appointment", "booked", "scheduled", "due"),
}
"""Headings by which a column's role is recognised, in small letters; the earlier, the surer."""

MEANINGS: dict[Happening, tuple[str, ...]] = {
    Happening.CAME: ("came", "arrived", "joined the line", "schedule", "enqueue", "queued", "issued", "ticket printed"),
    Happening.BEGAN: ("work began", "start", "started", "began", "begin", "called", "answered", "serving"),
    Happening.PAUSED: ("work paused", "handed back", "suspend", "paused", "on hold"),
    Happening.RESUMED: ("work resumed", "resume", "resumed"),
    Happening.WORKED: ("blocked",),
    Happening.ENDED: ("went on", "complete", "completed", "ended", "end", "finished", "done", "served", "hung up"),
    Happening.GAVE_UP: ("gave up", "ate_abort", "pi_abort", "abandoned", "no show", "balked", "withdraw"),
    Happening.TURNED_AWAY: ("turned away", "rejected", "busy", "refused"),
    Happening.NOTHING: (
        *("left", "shift began", "shift ended", "break began", "came back", "interrupted", "absent"),
        *("set out", "held", "gathered", "diverted", "errand sent", "assign", "reassign", "unknown"),
    ),
}
"""Words by which it is recognised what happened, in small letters."""


def meaning_of(word: str) -> Happening | None:
    """Return what a word most likely says that happened, None for one that is not known."""
    plain = word.strip().lower()
    return next((meant for meant, words in MEANINGS.items() if plain in words), None)
