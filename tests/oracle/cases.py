"""Cases, and what is kept of them: their way, their minutes, their people."""

from collections import Counter
from dataclasses import dataclass, field
from typing import Any

from tests.oracle.service import Station, Way

INF = float("inf")


@dataclass(eq=False)
class Party:
    """A case that forked and its branches under way."""

    owner: "Case"
    join: str
    outstanding: int = 0
    gathered: int = 0
    cost: float = 0.0


@dataclass(eq=False)
class Case:
    """A case, a branch or a companion; who was gathered travels in the `riders` of the first."""

    number: int
    luck: Any
    stream: str
    type: str
    arrived_at: float
    priority: float = 0.0
    due: float = INF
    kind: str = "case"
    traits: dict[str, Any] = field(default_factory=dict)
    visits: Counter[str] = field(default_factory=Counter)
    known: dict[str, Any] = field(default_factory=dict)
    station: Station | None = None
    place: str | None = None
    laps: int = 0
    loop: int = -1
    state: str = "moving"
    cause: str = ""
    where: str = ""
    joined_at: float = 0.0
    turn: float = 0.0
    rank: float = 0.0
    token: int = 0
    work_left: float | None = None
    ends_at: float = 0.0
    begun: int = 0
    event: Any = None
    held: list[Any] = field(default_factory=list)
    ahead: list[tuple[Way, Station]] = field(default_factory=list)
    goal: Station | None = None
    expected: bool = False
    called: bool = False
    outside: bool = False
    visit_over: bool = False
    gone: bool = False
    turned_away: bool = False
    last_wait: float = 0.0
    cost: float = 0.0
    visit_cost: float = 0.0
    visit_travel: float = 0.0
    minutes: Counter[str] = field(default_factory=Counter)
    visit: Counter[str] = field(default_factory=Counter)
    timers: list[Any] = field(default_factory=list)
    riders: "list[list[Case]]" = field(default_factory=list)
    party: Party | None = None
    owns: list[Party] = field(default_factory=list)
    sender: "Case | None" = None
    letters: Counter[tuple[str, str]] = field(default_factory=Counter)
    heard: str = ""

    def together(self) -> "list[Case]":
        """Return the case and all who travel with it."""
        return [self] + [each for batch in self.riders for rider in batch for each in rider.together()]
