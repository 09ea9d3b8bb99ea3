"""What targets ask of each replication: how far a figure is on the right side of its limit, there or in each interval.

Every aim is a ratio: `part` of a `whole` must be at least, or at most, its limit. Of a share of cases these are the
cases within the time and all cases, of any other figure of a run the figure and one. So what is asked is linear in sums
that can be told replication by replication, and a mean with a known error: E[part − limit · whole] ≥ 0.
"""

from collections.abc import Callable, Iterator, Sequence
from copy import copy
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.world import World
from flowcore.kernel.summary.views import series_of_lines, series_of_states
from flowcore.problems import Problem, error_at
from flowcore.results.arrays import plain
from flowcore.results.catalogue import Address, Unit, titled
from flowcore.results.series import row_lengths
from flowcore.results.statistics import PERCENTILE_NAMES
from flowcore.results.surveys import extras_of, minute_of_week
from flowcore.results.week_grid import Floats, Grid, Whole, interval_of
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import periods_in, plain_number, short_number
from flowcore.study.runs import Target
from flowcore.study.steps import Exit

DAYS_A_WEEK = 7
_OF_ROWS = ("wait", "work", "travel", "blocked", "total")
_OVER_DUTY = (k.MemberState.WORKING, k.MemberState.WALKING, k.MemberState.IDLE, k.MemberState.INTERRUPTED)

Sums = tuple[Floats, Floats]
"""Part and whole of an aim in one replication, both of shape (cells,)."""
Teller = Callable[[World], Sums]


@dataclass(frozen=True)
class Aim:
    """One limit of a target: `sign` is 1 where the ratio must be at least `limit`, -1 where at most.

    It is held in so many `cells`: 1 for the run, 7 for the days, or the intervals of a week. The ratio is that of a
    `figure`, with a percentile that of the share within its limit.
    """

    target: Target
    figure: str
    sign: int
    limit: float
    is_share: bool
    cells: int

    @property
    def key(self) -> str:
        """What the sums are told under that it is judged by: the same for aims of the same figure."""
        return f"{self.target.by} {self.figure}"

    @property
    def scale(self) -> float:
        """What misses are measured in, which makes those of several targets alike."""
        return 1.0 if self.is_share else max(abs(self.limit), 1e-9)

    @property
    def allowed(self) -> float:
        """How much may be missed: the share of cases that may, or all that a figure may be."""
        return 1 - self.limit if self.is_share and self.sign > 0 else self.limit

    def missed(self, ratio: Floats) -> Floats:
        """Return how much of what may be missed a ratio misses."""
        return 1 - ratio if self.is_share and self.sign > 0 else ratio

    def margins(self, part: Floats, whole: Floats) -> Floats:
        """Return how far each replication is on the right side in each cell, in units of the scale."""
        return self.sign * (part - self.limit * whole) / self.scale


class Aims:
    """The aims of some targets, and what tells of a world how far it keeps them."""

    def __init__(self, study: StudyDocument, targets: Sequence[Target], grid: Grid) -> None:
        self.study, self.grid = study, grid
        self.aims: list[Aim] = []
        self._ways: list[str | Teller] = []
        for target in targets:
            for sign, limit in ((1, target.at_least), (-1, target.at_most)):
                if limit is not None:
                    self._add(target, sign, plain_number(limit) * self._times(target))
        self.addresses = [way for way in self._ways if isinstance(way, str)]

    @cached_property
    def by_interval(self) -> "Aims":
        """The same targets in every interval of the week, of those that can be told so."""
        targets = [aim.target for aim in self.aims if is_told_by(self.study, aim.target.figure, "interval")]
        each = [target.model_copy(update={"by": "interval"}) for target in targets]
        return Aims(self.study, [one for n, one in enumerate(each) if one not in each[:n]], self.grid)

    def _times(self, target: Target) -> float:
        """Return how many of the days, weeks or months that a count is told by are in a replication."""
        return periods_in(minutes(self.study.run.length) - minutes(self.study.run.warm_up), target.per)

    def _add(self, target: Target, sign: int, limit: float) -> None:
        cells = {"run": 1, "day": DAYS_A_WEEK, "interval": self.grid.count}[target.by]
        address = Address.read(target.figure)
        assert address is not None
        title = titled(target.figure, self.study)
        if address.statistic in PERCENTILE_NAMES:
            share, sign = float(address.statistic[1:]) / 100, -sign
            within = _within(target.figure, limit)
            told = self._of_rows(address, target.by, ("within", limit)) or within
            self._keep(Aim(target, within, sign, share, True, cells), told)
            return
        is_share = title is not None and title.unit is Unit.SHARE
        way: str | Teller | None = target.figure if target.by == "run" else self._by_time(address, target.by)
        assert way is not None
        self._keep(Aim(target, target.figure, sign, limit, is_share, cells), way)

    def _keep(self, aim: Aim, way: "str | Teller") -> None:
        self.aims.append(aim)
        self._ways.append(way)

    @property
    def waits_at_most(self) -> float:
        """The shortest time, in minutes, within which something is wanted; nothing where no target is of a time."""
        return min((time_of(aim.target) for aim in self.aims), default=0.0)

    def with_misses(self, part: float) -> "Aims":
        """Return the same aims with so many times as much allowed to be missed of the first one."""
        first = self.aims[0]
        if first.sign > 0:
            limit = 1 - part * (1 - first.limit) if first.is_share else first.limit / part
        else:
            limit = part * first.limit
        changed = copy(self)
        changed.aims = [replace(first, limit=limit), *self.aims[1:]]
        return changed

    def tells(self, address: Address, by: str) -> bool:
        """Say whether a figure can be told by the day, or by the interval."""
        return self._by_time(address, by) is not None

    def _by_time(self, address: Address, by: str) -> Teller | None:
        """Return what tells a figure by day or by interval; None where nothing does."""
        quantity, statistic = address.kind.quantity, address.statistic
        if statistic in PERCENTILE_NAMES:
            return self._of_rows(address, by, ("within", 0.0))
        if statistic == "mean" and address.subject == "step" and quantity == "line":
            return self._of_line(address.id, by)
        if quantity == "utilisation" and address.subject == "team":
            return self._of_team(address.id, by)
        if quantity == "abandoned" and statistic == "of:arrived":
            return self._of_rows(address, by, ("abandoned", 0.0))
        if statistic == "none":
            return self._of_rows(address, by, ("within", 0.0))
        if statistic.startswith("within:"):
            return self._of_rows(address, by, ("within", minutes(statistic.removeprefix("within:"))))
        return self._of_rows(address, by, ("mean", 0.0)) if statistic == "mean" else None

    def _of_rows(self, address: Address, by: str, asked: tuple[str, float]) -> Teller | None:
        """Return what tells a figure of the rows of the ledger; None where they do not have it."""
        what, limit = asked
        quantity = address.kind.quantity
        if address.half or (what != "abandoned" and quantity not in _OF_ROWS):
            return None
        ids = _ids_of(self.study, address.subject)
        if ids is None or address.id not in (*ids, "all") or (what == "abandoned" and address.subject == "step"):
            return None
        number = -1 if address.id == "all" else ids.index(address.id)
        gives_up = np.array([isinstance(step, Exit) and step.abandoned for step in self.study.steps])
        field = "step" if address.subject == "outcome" else address.subject

        def tell(world: World) -> Sums:
            rows, came = _rows_of(world, address.subject)
            mine = np.ones(len(rows), bool) if number < 0 else rows[field] == number
            if what == "abandoned":
                values = gives_up[rows["step"][mine]].astype(np.float64)
            else:
                values = _quantity(world, rows, quantity)[mine]
                values = (values <= limit).astype(np.float64) if what == "within" else values
            return self._in_cells(values, came[mine], by)

        return tell

    def _in_cells(self, values: Floats, came: Floats, by: str) -> Sums:
        if by == "run":
            return np.array([values.sum()]), np.array([float(len(values))])
        places, cells = self._places(came, by)
        return _sums(places, values, cells), _sums(places, np.ones(len(places)), cells)

    def _places(self, moments: Floats, by: str) -> tuple[Whole, int]:
        at = self.grid.place(moments + minute_of_week(self.study))
        return (at, self.grid.count) if by == "interval" else (at // self.grid.a_day, DAYS_A_WEEK)

    def _of_line(self, step_id: str, by: str) -> Teller:
        number = next(n for n, step in enumerate(self.study.steps) if step.id == step_id)
        return lambda world: self._of_series(world, series_of_lines(world)[:, number], None, by)

    def _of_team(self, team_id: str, by: str) -> Teller:
        number = next(n for n, team in enumerate(self.study.teams) if team.id == team_id)

        def tell(world: World) -> Sums:
            states = series_of_states(world)[:, number]
            working = states[:, _OVER_DUTY[:2]].sum(axis=1)
            return self._of_series(world, working, states[:, _OVER_DUTY].sum(axis=1), by)

        return tell

    def _of_series(self, world: World, sums: Floats, wholes: Floats | None, by: str) -> Sums:
        """Return minutes by interval of the run, after the warm-up, as those by cell.

        The whole is all of the time where none is given.
        """
        interval, starts = minutes(self.study.run.interval), minute_of_week(self.study)
        begins = np.arange(len(sums), dtype=np.float64) * interval - starts % interval
        places, cells = self._places(begins, by)
        lengths = row_lengths(self.study, world.plan, float(world.clock[0].now))
        counted = (begins >= minutes(self.study.run.warm_up) - 1e-9) | bool(world.plan.run[0].by_week)
        of = (lengths if wholes is None else wholes) * counted
        return _sums(places, sums * counted, cells), _sums(places, of, cells)

    def tell(self, world: World, figures: Sequence[float] = ()) -> Floats:
        """Return part and whole of every cell of all aims, shape (2, cells); `figures` are those of `addresses`."""
        left = iter(figures)
        found = [_alone(next(left)) if isinstance(way, str) else way(world) for way in self._ways]
        parts, wholes = (np.concatenate([each[n] for each in found] or [np.zeros(0)]) for n in (0, 1))
        return np.stack([parts, wholes])

    @property
    def cells(self) -> int:
        """How many cells all aims have."""
        return sum(aim.cells for aim in self.aims)

    def split(self, cells: Floats) -> Iterator[tuple[Aim, Floats]]:
        """Yield each aim with its part of the last axis of `cells`."""
        begin = 0
        for aim in self.aims:
            yield aim, cells[..., begin : begin + aim.cells]
            begin += aim.cells


def time_of(target: Target) -> float:
    """Return within which time a target wants its share of the cases, in minutes; none where it is of no time."""
    statistic = target.figure.rpartition("/")[2]
    if statistic.startswith("within:"):
        return minutes(statistic.removeprefix("within:"))
    limit = target.at_most if target.at_most is not None else target.at_least
    return plain_number(limit) if statistic in PERCENTILE_NAMES and limit is not None else 0.0


def _sums(places: Whole, values: Floats, cells: int) -> Floats:
    return np.bincount(places, values, cells).astype(np.float64)


def _alone(figure: float) -> Sums:
    """Return a figure as a ratio to one, or to nothing where there is none."""
    known = not np.isnan(figure)
    return np.array([figure if known else 0.0]), np.array([1.0 if known else 0.0])


def _within(figure: str, limit: float) -> str:
    """Return the address of the share within a limit, of what a percentile is of."""
    return f"{figure.rpartition('/')[0]}/within:{short_number(limit, 9)}min"


def _ids_of(study: StudyDocument, subject: str) -> list[str] | None:
    match subject:
        case "type":
            return [each.id for each in study.case_types]
        case "stream":
            return [each.id for each in study.streams]
        case "step" | "outcome":
            return [each.id for each in study.steps]
    return None


def _rows_of(world: World, subject: str) -> tuple[np.ndarray, Floats]:
    """Return rows of the ledger and when each case came: to the step, or to the service."""
    clock = world.clock[0]
    if subject == "step":
        visits = plain(world.visits[: clock.visits])
        return visits, visits["joined_at"]
    departures = plain(world.departures[: clock.departures])
    return departures, departures["left_at"] - departures["total"]


def _quantity(world: World, rows: np.ndarray, quantity: str) -> Floats:
    if quantity in (rows.dtype.names or ()):
        return np.asarray(rows[quantity], np.float64)
    if quantity == "total":
        found: Floats = rows["wait"] + rows["work"] + _quantity(world, rows, "blocked")
        return found
    extras = extras_of(world)
    return np.asarray(extras[quantity], np.float64) if len(extras) else np.zeros(len(rows))


def is_told_by(study: StudyDocument, figure: str, by: str) -> bool:
    """Say whether a figure can be told by the day, or by the interval."""
    address = Address.read(figure)
    return address is not None and Aims(study, (), interval_of(study)).tells(address, by)


def aims_by_time(study: StudyDocument, targets: Sequence[Target]) -> Aims:
    """Return the aims of those targets that are of days or intervals, and of figures that can be told so."""
    told = [each for each in targets if each.by != "run" and is_told_by(study, each.figure, each.by)]
    return Aims(study, told, interval_of(study))


def target_problems(study: StudyDocument, targets: Sequence[Target], where: str) -> Iterator[Problem]:
    """Yield what of targets cannot be aimed at: figures that are not there, or not told by day or by interval."""
    for number, target in enumerate(targets):
        address = Address.read(target.figure)
        at = f"{where}/{number}"
        if address is None or (address.id not in ("", "all") and not _is_there(study, address)):
            yield error_at(at, f"There is no figure {target.figure}.", "Choose one that a run of this study has.")
        elif target.by != "run" and not is_told_by(study, target.figure, target.by):
            what = f"{target.figure} is not told by {'day' if target.by == 'day' else 'interval'}."
            mend = "Aim at a wait, a time, a line, a team's utilisation or those who give up, or at the whole run."
            yield error_at(at, what, mend)


def _is_there(study: StudyDocument, address: Address) -> bool:
    named: dict[str, Sequence[object]] = {
        "type": study.case_types,
        "stream": study.streams,
        "step": study.steps,
        "outcome": study.steps,
        "team": study.teams,
        "cost/team": study.teams,
        "measure": study.measures,
        "deadline": study.deadlines,
        "day": (),
    }
    known = named.get(address.subject)
    return known is None or address.id in {getattr(each, "id", None) for each in known}
