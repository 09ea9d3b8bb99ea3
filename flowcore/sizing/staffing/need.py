"""How many people each interval of the week takes: from theory, and from simulation where theory cannot say."""

from collections.abc import Generator, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from flowcore.results.aims import Aim, Aims, time_of
from flowcore.results.week_grid import Floats, Grid, Whole
from flowcore.sizing.aiming.trials import Outcome, Staffing, Trial
from flowcore.sizing.staffing.pools import Pool
from flowcore.sizing.staffing.shifts import Shift
from flowcore.study import StudyDocument
from flowcore.study.distributions import mean_of
from flowcore.study.durations import DAY
from flowcore.study.rosters import RosterRow
from flowcore.study.steps import Serve
from flowcore.theory.queues import abandon_mmcm, erlang_c, wait_beyond_mmc, wait_beyond_mmcm, wait_mmc

Need = dict[tuple[str, ...], Floats]
"""The members needed of some teams together in each interval of the week."""
ANYBODY = 0.01
"""Work of so many cases in an interval of the week on takes one member at least."""
MOST_MEMBERS = 2_000
STAY = 120.0
"""So many minutes who is there last stays at most in a trial of a need, where a team stays to finish what is left."""
ROUNDS = 6
"""So often the need is raised where its target is missed, and then lowered where it is far exceeded."""
AMPLE = 0.35
"""A target that is missed by less than so large a share of what may be missed is far exceeded."""

Tried = Generator[list[Trial], list[Outcome], "Settled"]


@dataclass(frozen=True)
class Settled:
    """A need that simulation has settled, and whether every interval keeps its targets with it."""

    need: Need
    holds: bool


def least_by_margin(pools: Sequence[Pool], margins: Sequence[float]) -> Need:
    """Return the offered load of each pool and so many of its roots more, in whole members.

    Source: Halfin and Whitt, Heavy-traffic limits for queues with many exponential servers, Operations Research 29
    (1981); the load in the course of the day as in Jennings, Mandelbaum, Massey and Whitt, Server staffing to meet
    time-varying demand, Management Science 42 (1996).
    """
    return {
        pool.teams: _at_least_one(pool, np.ceil(pool.load + margin * np.sqrt(pool.load) - 1e-9))
        for pool, margin in zip(pools, margins, strict=True)
    }


def _at_least_one(pool: Pool, members: Floats) -> Floats:
    found: Floats = np.where(pool.arrivals > ANYBODY, np.maximum(members, 1.0), 0.0)
    return found


def least_by_theory(study: StudyDocument, pools: Sequence[Pool], aims: Aims, margin: float) -> Need:
    """Return the smallest numbers with which the formulas of Erlang keep the targets in every interval by itself.

    Where no target is about the work of a pool, or none that a formula tells, the `margin` decides.
    """
    need = least_by_margin(pools, [margin] * len(pools))
    for pool in pools:
        asked = [each for aim in aims.aims for each in _asked_of(study, pool, aim)]
        if asked:
            least = [_least(pool, place, aims.grid, asked) for place in range(aims.grid.count)]
            need[pool.teams] = _at_least_one(pool, np.array(least, np.float64))
    return need


@dataclass(frozen=True)
class _Asked:
    """What a target asks of a line: the share that must not wait beyond a limit, or give up, or be busy on average."""

    what: str
    limit: float
    share: float
    patience: float | None


def _asked_of(study: StudyDocument, pool: Pool, aim: Aim) -> Iterator[_Asked]:
    subject, name, quantity, *statistic = [*aim.target.figure.split("/"), ""][:4]
    told = statistic[0] if statistic else ""
    mine = subject == "step" and name in pool.steps
    if subject == "team" and quantity == "utilisation" and pool.teams == (name,) and aim.sign < 0:
        yield _Asked("busy", 0.0, aim.limit, None)
    if not (mine or subject in ("type", "stream")):
        return
    patience = _patience(study, pool)
    if quantity == "wait" and told == "mean" and aim.sign < 0:
        yield _Asked("mean", aim.limit, 0.0, patience)
    elif quantity == "wait" and (told.startswith(("within:", "p")) or told == "none") and aim.sign > 0:
        yield _Asked("beyond", time_of(aim.target), 1 - aim.limit, patience)
    elif quantity == "abandoned" and told == "of:arrived" and aim.sign < 0 and patience is not None:
        yield _Asked("lost", 0.0, aim.limit, patience)


def _patience(study: StudyDocument, pool: Pool) -> float | None:
    """Return the mean patience in a pool's lines; None where nobody gives up."""
    known = [
        mean_of(step.line.patience)
        for step in study.steps
        if isinstance(step, Serve) and step.id in pool.steps and step.line.patience is not None
    ]
    return min(known) if known else None


def _least(pool: Pool, place: int, grid: Grid, asked: Sequence[_Asked]) -> int:
    """Return the smallest number of members that does all that is asked in an interval."""
    load, arrivals = float(pool.load[place]), float(pool.arrivals[place]) / grid.interval
    if load <= 1e-9:
        return 0
    rate = max(arrivals, load / 1e4)
    members = 1
    while members < MOST_MEMBERS and not all(_does(members, rate, load / rate, each) for each in asked):
        members += 1
    return members


def _does(members: int, rate: float, work: float, asked: _Asked) -> bool:
    """Say whether so many members do what is asked, with so many arrivals a minute and minutes of work for each."""
    if asked.what == "busy":
        return rate * work <= asked.share * members
    if asked.what == "lost":
        return abandon_mmcm(members, rate, work, asked.patience or 1.0)[0] <= asked.share
    if asked.what == "mean":
        if asked.patience is not None:
            return abandon_mmcm(members, rate, work, asked.patience)[1] / rate <= asked.limit
        return wait_mmc(members, rate, work) <= asked.limit
    if asked.patience is not None:
        return wait_beyond_mmcm(members, rate, work, asked.patience, asked.limit) <= asked.share
    if asked.limit <= 0:
        return erlang_c(members, rate * work) <= asked.share
    return wait_beyond_mmc(members, rate, work, asked.limit) <= asked.share


class Staffed:
    """Makes staffings that have exactly the members that are needed, interval by interval, whatever shifts allow."""

    def __init__(self, study: StudyDocument, pools: Sequence[Pool], teams: Sequence[str], grid: Grid) -> None:
        self._study, self._grid = study, grid
        self._pools = sorted(pools, key=lambda pool: len(pool.teams))
        self._rates = {team.id: (team.rate / team.pace, n) for n, team in enumerate(study.teams)}
        self.teams = list(teams)

    def members(self, need: Mapping[tuple[str, ...], Floats]) -> dict[str, Floats]:
        """Return the members of each team that meet a need of pools: what is lacking is of the cheapest team."""
        found = {team: np.zeros(self._grid.count) for team in self.teams}
        for pool in self._pools:
            mine = [team for team in pool.teams if team in found]
            if mine and pool.teams in need:
                there = sum((found[team] for team in mine), np.zeros(self._grid.count))
                cheapest = min(mine, key=lambda team: self._rates[team])
                found[cheapest] += np.maximum(0.0, need[pool.teams] - there)
        return found

    def staffing(self, need: Mapping[tuple[str, ...], Floats]) -> Staffing:
        """Return the staffing that has the members needed."""
        members = self.members(need)
        by_id = {team.id: team for team in self._study.teams}
        rosters = {
            team: self._rows(there, STAY if by_id[team].closing.stay != "leave" else 0.0)
            for team, there in members.items()
            if by_id[team].kind == "people"
        }
        sizes = {team: int(there.max()) for team, there in members.items() if by_id[team].kind != "people"}
        return Staffing(rosters, sizes, {}, leaves_on_time=True)

    def _rows(self, members: Floats, stay: float) -> list[RosterRow]:
        """Return rows with the first member there whenever one is needed, the second whenever two are, and so on.

        Who is there last on a day stays so many minutes longer.
        """
        counts: dict[tuple[float, float], list[int]] = {}
        by_day = _with_the_last_staying(members.reshape(7, -1).astype(np.int64), round(stay / self._grid.interval))
        for day in range(7):
            for level in range(1, int(by_day[day].max()) + 1):
                for first, last in _stretches(by_day[day] >= level):
                    hours = counts.setdefault((first * self._grid.interval, last * self._grid.interval), [0] * 7)
                    hours[day] += 1
        rows: list[RosterRow] = []
        for (begin, end), of_days in sorted(counts.items()):
            for level in range(1, max(of_days) + 1):
                days = [day for day in range(7) if of_days[day] >= level]
                rows.append(Shift(begin, min(end - begin, DAY)).row(days, 1))
        return rows


def _with_the_last_staying(members: Whole, intervals: int) -> Whole:
    """Return the members of each day, shape (7, intervals), with those there last for so many intervals more."""
    found = members.copy()
    for day in found:
        there = np.flatnonzero(day)
        if len(there):
            day[there[-1] : there[-1] + intervals + 1] = day[there[-1]]
    return found


def _stretches(there: np.ndarray) -> list[tuple[int, int]]:
    """Return from where to where something holds without a gap."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], there.astype(np.int8), [0]])))
    return list(zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True))


def settle(
    study: StudyDocument, pools: Sequence[Pool], aims: Aims, staffed: "Staffed", first: Need, numbers: tuple[int, ...]
) -> Tried:
    """Settle a need by simulation: raise it where a target is missed, lower it where that is far exceeded.

    Every target is taken interval by interval. Source: Feldman, Mandelbaum, Massey and Whitt, Staffing of time-varying
    queues to achieve time-stable performance, Management Science 54 (2008), an interval at a time.
    """
    need = {teams: members.copy() for teams, members in first.items()}
    mine = [pool for pool in pools if set(pool.teams) & set(staffed.teams)]
    least = {pool.teams: _lowest(pool, need[pool.teams]) for pool in mine}
    holds = False
    for number in range(2 * ROUNDS):
        [outcome] = yield [Trial(staffed.staffing(need), numbers, looks=True)]
        blame = _blame(study, mine, outcome, aims.grid)
        missed, ample = _missed(aims, outcome)
        holds = not missed.any()
        changed = False
        for pool in mine:
            up = missed & blame[pool.teams]
            least[pool.teams] = np.where(up, np.maximum(least[pool.teams], need[pool.teams] + 1), least[pool.teams])
            down = ample & ~up & (need[pool.teams] > least[pool.teams]) & (_turn(number, aims.grid))
            step = up.astype(np.float64) - down
            changed = changed or bool(step.any())
            need[pool.teams] = need[pool.teams] + step
        if not changed:
            break
    need = {teams: np.maximum(members, least.get(teams, 0.0)) for teams, members in need.items()}
    return Settled(need, holds)


def _lowest(pool: Pool, first: Floats) -> Floats:
    """Return what a need is not lowered below: enough for the load of each interval by itself, or what theory says."""
    found: Floats = np.where(pool.arrivals > ANYBODY, np.minimum(first, np.floor(pool.load) + 1), 0.0)
    return found


def _turn(number: int, grid: Grid) -> np.ndarray:
    """Return which intervals may be lowered this time: every other one, so that neighbours do not fall together."""
    found: np.ndarray = (np.arange(grid.count) + number) % 2 == 0
    return found


def _blame(
    study: StudyDocument, pools: Sequence[Pool], outcome: Outcome, grid: Grid
) -> dict[tuple[str, ...], np.ndarray]:
    """Return for each pool the intervals in which its lines are waited in longest, of those of all pools."""
    assert outcome.waited is not None
    numbers = {step.id: n for n, step in enumerate(study.steps)}
    waited = np.array([outcome.waited[[numbers[step] for step in pool.steps]].sum(axis=0) for pool in pools])
    most = waited.max(axis=0, initial=0.0)
    busy = np.array([pool.arrivals > ANYBODY for pool in pools])
    return {pool.teams: (waited[n] >= 0.5 * most) & busy[n] for n, pool in enumerate(pools)}


def _missed(aims: Aims, outcome: Outcome) -> tuple[np.ndarray, np.ndarray]:
    """Return in which intervals a target is missed, and in which all are far exceeded; all where nothing goes on."""
    missed = np.full(aims.grid.count, outcome.stands_still)
    ample = ~missed
    for aim, cells in aims.split(outcome.cells):
        if aim.cells != aims.grid.count:
            continue
        parts, wholes = cells.sum(axis=0)
        known = wholes > 0
        ratio = np.divide(parts, wholes, out=np.full(len(parts), aim.limit), where=known)
        missed |= known & (aim.sign * (ratio - aim.limit) < 0)
        spare = aim.missed(ratio) < AMPLE * aim.allowed if aim.sign < 0 or aim.is_share else ratio > aim.limit / AMPLE
        ample &= ~known | spare
    return missed, ample
