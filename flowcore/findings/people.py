"""Who is stretched and when, and who is free most of the time."""

from collections.abc import Iterator

import numpy as np

from flowcore.findings.source import Source
from flowcore.findings.told import Kind, Told, Weight
from flowcore.findings.words import Sentence, listed_pieces, plain
from flowcore.results.catalogue import hour_words
from flowcore.study.teams import Team
from flowcore.thresholds import FULL, IDLE, STRETCHED

MOST_IDLE = 2
HARDLY_ANY = 0.5
"""Hours in which less than so large a share of the most are there are not looked at."""


def on_people(source: Source) -> Iterator[Told]:
    """Yield who is stretched, over all or by the hour, and which people are free more than half of their time."""
    parts = [part for part in (_stretched(source), _free(source)) if part]
    if parts:
        sentence = [piece for part in parts for piece in ([plain(" ")] if part is not parts[0] else []) + part]
        yield Told(kind=Kind.PEOPLE, weight=Weight.PEOPLE, sentence=sentence)


def _stretched(source: Source) -> Sentence:
    team = max(source.study.teams, key=lambda each: _load(source, each), default=None)
    if team is None or _load(source, team) >= FULL:
        return []
    if _load(source, team) >= STRETCHED:
        load = source.told(f"team/{team.id}/utilisation")
        return [
            plain(f"{team.name} {at_work(team)} "),
            load,
            plain(" of the time: a little more work would make waits much longer."),
        ]
    return _stretched_by_the_hour(source)


def _stretched_by_the_hour(source: Source) -> Sentence:
    """Say when a team is at work all the time in its busiest hour of the week, though not over all."""
    peaks = {team.id: _loads_by_hour(source, team) for team in source.study.teams}
    busy = [team for team in source.study.teams if (peaks[team.id] >= STRETCHED).any()]
    team = max(busy, key=lambda each: int((peaks[each.id] >= STRETCHED).sum()), default=None)
    if team is None:
        return []
    hour, many = int(np.argmax(peaks[team.id])), int((peaks[team.id] >= STRETCHED).sum())
    how_often = f", nearly so in {many - 1} more hours of the week" if many > 1 else ""
    load = source.told(f"team/{team.id}/utilisation/hour:{hour}")
    return [plain(f"{team.name} {at_work(team)} "), load, plain(f" of the time on {hour_words(hour)}{how_often}.")]


def _loads_by_hour(source: Source, team: Team) -> np.ndarray:
    """Return how busy a team is by the hour of the week, 0 where hardly any of it are there."""
    there = source.by_hour(f"team/{team.id}/present")
    loads: np.ndarray = np.where(there >= HARDLY_ANY * there.max(), source.by_hour(f"team/{team.id}/utilisation"), 0.0)
    return loads


def _free(source: Source) -> Sentence:
    people = [team for team in source.study.teams if team.kind == "people" and team.rate and team.paid == "present"]
    used = [team for team in people if source.figure(f"team/{team.id}/utilisation").mean is not None]
    free = sorted((team for team in used if _load(source, team) <= IDLE), key=lambda team: -_idle_cost(source, team))
    if not free:
        return []
    names = [f"{free[0].name} {at_work(free[0])} ", *(f"{team.name} " for team in free[1:MOST_IDLE])]
    loads = [source.told(f"team/{team.id}/utilisation") for team in free]
    return [
        *listed_pieces([[plain(name), load] for name, load in zip(names, loads, strict=False)]),
        plain(" of the time."),
    ]


def _load(source: Source, team: Team) -> float:
    return source.mean(f"team/{team.id}/utilisation")


def _idle_cost(source: Source, team: Team) -> float:
    return source.mean(f"cost/team/{team.id}/idle/per:day")


def at_work(team: Team) -> str:
    """Return what a team that is called in the singular or the plural is: "are at work"."""
    return f"{'are' if team.name.endswith('s') else 'is'} {'at work' if team.kind == 'people' else 'in use'}"
