"""How cases wait at each step of the plan: one line for each pool that they may ask there."""

from collections import Counter
from dataclasses import dataclass, field

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records import plan as p
from flowcore.kernel.records.record import Table, row, table
from flowcore.plan.layout import Layout
from flowcore.plan.store import Store
from flowcore.study import StudyDocument, minutes
from flowcore.study.steps import Line, Serve

_DISCIPLINE = {
    "first-come": c.Discipline.FIRST_COME,
    "last-come": c.Discipline.LAST_COME,
    "priority": c.Discipline.PRIORITY,
    "due": c.Discipline.DUE,
    "shortest-work": c.Discipline.SHORTEST_WORK,
    "random": c.Discipline.RANDOM,
}


def _kept(line: Line) -> c.Kept:
    """Return how a line is kept; who is blocked before one without a place stands in it without a priority."""
    if line.discipline in ("first-come", "last-come"):
        return c.Kept.CHAIN
    return c.Kept.GRADED_CHAIN if line.discipline == "priority" and line.max != 0 else c.Kept.HEAP


@dataclass
class LineCompiler:
    """Turns lines into records; waiting rooms that are shared come first among the rooms."""

    study: StudyDocument
    layout: Layout
    store: Store
    rows: list[dict[str, object]] = field(default_factory=list)
    shared: dict[str, int] = field(default_factory=dict)

    def __post_init__(self) -> None:
        lines = [step.line for step in self.study.steps if isinstance(step, Serve)]
        names = dict.fromkeys(line.shared for line in lines if line.shared is not None)
        self.shared = {name: number for number, name in enumerate(names)}

    def add(self, number: int, step: Serve | None, pools: list[int]) -> int:
        """Add a line for each of a step's pools and return where they begin."""
        line = Line() if step is None else step.line
        first = len(self.rows)
        room = len(self.shared) + number if line.shared is None else self.shared[line.shared]
        self.rows += [
            {
                "discipline": _DISCIPLINE[line.discipline],
                "kept": _kept(line),
                "most": k.NONE if line.max is None else line.max,
                "when_full": c.WhenFull.BLOCKS if line.when_full == "block" else c.WhenFull.TURNS_AWAY,
                "full_to": self._step(line.full_to),
                "balk_at": k.NONE if line.balk_at is None else line.balk_at,
                "balks_to": self._step(line.balks_to),
                "patience": k.NONE if line.patience is None else self.store.number_of(line.patience),
                "gives_up_to": self._step(line.gives_up_to),
                "room": room,
                "step": number,
                "pool": pool,
                "min_wait": 0.0 if line.min_wait is None else minutes(line.min_wait),
            }
            for pool in pools
        ]
        return first

    def add_plain(self, number: int) -> int:
        """Add the line of a step whose cases wait for nobody, and return where it is."""
        return self.add(number, None, [k.NONE])

    def records(self) -> Table[p.Line]:
        """Return the lines."""
        pools = Counter(line["pool"] for line in self.rows)
        return table(p.Line, (row(p.Line, **line, is_only=pools[line["pool"]] == 1) for line in self.rows))

    def _step(self, step_id: str | None) -> int:
        return k.NONE if step_id is None else self.layout.first[step_id]
