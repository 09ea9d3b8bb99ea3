"""The study as a plan: ids become indices, units minutes, shares cumulative."""

from collections import Counter
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel import records as r
from flowcore.plan.circles import find_circles
from flowcore.plan.distributions import DistributionTable
from flowcore.plan.keys import stable_key
from flowcore.study import Study, links_of, shares_of
from flowcore.study.steps import Choose, Delay, Exit, Serve, Step, WorkByType

_KIND = {"serve": r.SERVE, "delay": r.DELAY, "choose": r.CHOOSE, "exit": r.EXIT}


@dataclass(frozen=True)
class _Index:
    types: list[str]
    steps: dict[str, int]
    teams: dict[str, int]


def compile_study(study: Study) -> r.Plan:
    """Return the plan of a study that has passed the health checks."""
    index = _Index(
        types=[case_type.id for case_type in study.case_types] or [""],
        steps={step.id: number for number, step in enumerate(study.steps)},
        teams={team.id: number for number, team in enumerate(study.teams)},
    )
    table = DistributionTable()
    ways = [[index.steps[link.to] for link in links_of(step)] for step in study.steps]
    circles, closes = find_circles(ways)
    links = _links(study, index, table, closes)
    pools = _pools(study, index)
    steps, times, shares = _steps(study, index, table, pools, circles)
    pool_records, needs = _pool_records(pools, study, index)
    teams, team_pools = _teams(study, pools)
    streams = _streams(study, index, table)
    return r.Plan(
        distributions=table.records(),
        streams=streams,
        mixes=_mixes(study, index),
        steps=steps,
        times=np.array(times, np.int32),
        shares=np.array(shares, np.float64),
        links=links,
        needs=needs,
        pools=pool_records,
        teams=teams,
        team_pools=team_pools,
    )


def _records(rows: list[tuple[object, ...]], dtype: np.dtype[np.void]) -> np.recarray:
    return np.array(rows, dtype).view(np.recarray)


def _streams(study: Study, index: _Index, table: DistributionTable) -> np.recarray:
    return _records(
        [
            (
                stable_key("streams", stream.id),
                table.number_of(stream.gap),
                index.steps[stream.to],
                number * len(index.types),
            )
            for number, stream in enumerate(study.streams)
        ],
        r.STREAM,
    )


def _mixes(study: Study, index: _Index) -> NDArray[np.float64]:
    rows = []
    for stream in study.streams:
        shares = Counter({part.type: part.share for part in stream.mix} or {index.types[0]: 1.0})
        rows.append(np.cumsum([shares[case_type] for case_type in index.types]))
    return np.concatenate(rows)


def _links(study: Study, index: _Index, table: DistributionTable, closes: list[list[bool]]) -> np.recarray:
    return _records(
        [
            (
                stable_key("links", f"{step.id}/{link.to}"),
                index.steps[link.to],
                r.NONE if link.travel is None else table.number_of(link.travel),
                closing,
            )
            for step, flags in zip(study.steps, closes, strict=True)
            for link, closing in zip(links_of(step), flags, strict=True)
        ],
        r.LINK,
    )


Needs = tuple[tuple[int, int], ...]


def _needs_of(step: Step, index: _Index) -> Needs:
    """Return what a step asks for as (team, count), each team once, in the order of the needs."""
    counts: dict[int, int] = {}
    for need in step.needs if isinstance(step, Serve) else []:
        team = index.teams[need.team]
        counts[team] = counts.get(team, 0) + need.count
    return tuple(counts.items())


def _pools(study: Study, index: _Index) -> dict[Needs, int]:
    asked = dict.fromkeys(_needs_of(step, index) for step in study.steps)
    return {needs: number for number, needs in enumerate(needs for needs in asked if needs)}


def _pool_records(pools: dict[Needs, int], study: Study, index: _Index) -> tuple[np.recarray, np.recarray]:
    lines = Counter(_needs_of(step, index) for step in study.steps)
    rows: list[tuple[object, ...]] = []
    need_rows: list[tuple[object, ...]] = []
    place = 0
    for needs in pools:
        rows.append((len(need_rows), len(needs), place))
        need_rows.extend(needs)
        place += lines[needs]
    return _records(rows, r.POOL), _records(need_rows, r.NEED)


def _steps(
    study: Study, index: _Index, table: DistributionTable, pools: dict[Needs, int], circles: list[int]
) -> tuple[np.recarray, list[int], list[float]]:
    times: list[int] = []
    shares: list[float] = []
    rows: list[tuple[object, ...]] = []
    first_link = 0
    for step, circle in zip(study.steps, circles, strict=True):
        links = len(links_of(step))
        row = (stable_key("steps", step.id), _KIND[step.kind], pools.get(_needs_of(step, index), r.NONE))
        leaves = isinstance(step, Exit) and step.abandoned
        rows.append((*row, len(times), first_link, links, len(shares), circle, leaves))
        times += _times_of(step, index, table)
        for case_type in index.types:
            shares += np.cumsum(shares_of(step, case_type)).tolist()
        first_link += links
    return _records(rows, r.STEP), times, shares


def _times_of(step: Step, index: _Index, table: DistributionTable) -> list[int]:
    if isinstance(step, Choose | Exit):
        return []
    work = step.time if isinstance(step, Delay) else step.work
    if isinstance(work, WorkByType):
        return [table.number_of(work.by_type.get(case_type, work.otherwise)) for case_type in index.types]
    return [table.number_of(work)] * len(index.types)


def _teams(study: Study, pools: dict[Needs, int]) -> tuple[np.recarray, NDArray[np.int32]]:
    rows: list[tuple[object, ...]] = []
    team_pools: list[int] = []
    first_member = 0
    for number, team in enumerate(study.teams):
        asking = [pool for needs, pool in pools.items() if any(asked == number for asked, _ in needs)]
        rows.append((first_member, team.size, len(team_pools), len(asking)))
        team_pools += asking
        first_member += team.size
    return _records(rows, r.TEAM), np.array(team_pools, np.int32)
