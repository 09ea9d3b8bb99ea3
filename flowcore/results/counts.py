"""Counts, levels over time, and where the minutes go."""

import math
from itertools import product

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.ledger import EXACT_BINS, INSIDE_LEVEL, LEVEL_BINS, LINE_LEVEL, Level, Tally
from flowcore.kernel.records.world import World
from flowcore.kernel.summary.views import (
    causes_of_steps,
    causes_of_teams,
    causes_of_types,
    levels_of_rooms,
    levels_of_steps,
    levels_of_types,
)
from flowcore.results.catalogue import ANY_CAUSE, OF_ARRIVED
from flowcore.results.samples import INSTANT, Figures, ratio
from flowcore.study import StudyDocument
from flowcore.study.graph import links_of
from flowcore.study.steps import Exit, Gather, Serve, Signal

CAUSES = {
    "busy": k.Account.BUSY,
    "break": k.Account.BREAK,
    "absent": k.Account.ABSENCE,
    "off-shift": k.Account.OFF_SHIFT,
    "interrupted": k.Account.INTERRUPTION,
    "place": k.Account.PLACE,
    "closed": k.Account.CLOSED,
    "next-line": k.Account.NEXT_LINE,
    "signal": k.Account.SIGNAL,
    "batch": k.Account.BATCH,
    "branches": k.Account.BRANCHES,
    "minimum": k.Account.MINIMUM,
    "person": k.Account.PERSON,
}


def outcomes(study: StudyDocument, world: World) -> Figures:
    """Return how many cases left by each exit; `arrived` are all of them, `served` those who completed."""
    figures: Figures = {}
    for step, tally in zip(study.steps, world.step_tally, strict=True):
        if isinstance(step, Exit):
            figures |= _left(f"outcome/{step.id}", tally) | {f"outcome/{step.id}/inside": 0.0}
            figures[f"outcome/{step.id}/arrived"] = float(tally.arrived)
    return figures


def _left(subject: str, tally: Tally) -> Figures:
    """Return how many of a subject's cases left, and how; who completed was served."""
    return {
        f"{subject}/completed": float(tally.completed),
        f"{subject}/served": float(tally.completed),
        f"{subject}/abandoned": float(tally.abandoned),
        f"{subject}/turned-away": float(tally.turned_away),
    }


def counts(study: StudyDocument, world: World) -> Figures:
    """Return the tallies, which ways were taken how often, and how deadlines were kept."""
    counted = tallies(study, world)
    return counted | _shares_lost(counted) | _ways(study, world) | _deadlines(study, world)


def _shares_lost(counted: Figures) -> Figures:
    """Return the shares of those who came that gave up or were turned away."""
    return {
        f"{address}/{OF_ARRIVED}": ratio(lost, counted[f"{address.rpartition('/')[0]}/arrived"])
        for address, lost in counted.items()
        if address.endswith(("/abandoned", "/turned-away"))
    }


def tallies(study: StudyDocument, world: World) -> Figures:
    """Return how many cases came to steps, were served there or not, and how they left."""
    figures: Figures = {}
    for step, tally in zip(study.steps, world.step_tally, strict=True):
        figures[f"step/{step.id}/arrived"] = float(tally.arrived)
        if not isinstance(step, Exit):
            figures[f"step/{step.id}/served"] = float(tally.served)
        if isinstance(step, Serve | Signal | Gather):
            figures[f"step/{step.id}/abandoned"] = float(tally.abandoned)
        if isinstance(step, Serve):
            figures[f"step/{step.id}/turned-away"] = float(tally.turned_away)
    tallies = {
        "type": (world.type_tally, [case_type.id for case_type in study.case_types]),
        "stream": (world.stream_tally, [stream.id for stream in study.streams]),
    }
    present = world.cases[world.cases.weight == 1]
    for subject, (rows, ids) in tallies.items():
        inside = np.bincount(present[subject], minlength=len(rows))
        for each, tally, still in zip(ids, rows, inside, strict=False):
            here = f"{subject}/{each}"
            figures |= _left(here, tally)
            figures |= {f"{here}/arrived": float(tally.arrived), f"{here}/inside": float(still)}
        for quantity in ("arrived", "completed", "abandoned", "turned_away"):
            figures[f"{subject}/all/{quantity.replace('_', '-')}"] = float(rows[quantity].sum())
        figures[f"{subject}/all/served"] = figures[f"{subject}/all/completed"]
        figures[f"{subject}/all/inside"] = float(inside.sum())
    return figures


def _ways(study: StudyDocument, world: World) -> Figures:
    """Return how often each way was taken and how long its travel took, by `from:to`."""
    figures: Figures = {}
    taken: dict[str, tuple[int, float]] = {}
    for planned in world.plan.steps:
        if planned.travel_kind:
            continue
        step = study.steps[planned.document]
        for number, link in enumerate(links_of(step)):
            state = world.links[planned.first_link + number]
            address = f"link/{step.id}:{link.to}"
            before = taken.get(address, (0, 0.0))
            taken[address] = (before[0] + int(state.taken), before[1] + float(state.travel))
    for address, (count, travel) in taken.items():
        figures[f"{address}/arrived"] = float(count)
        figures[f"{address}/travel/mean"] = travel / count if count else float("nan")
    return figures


def _deadlines(study: StudyDocument, world: World) -> Figures:
    return {
        f"deadline/{deadline.id}/{quantity}": float(getattr(state, quantity))
        for deadline, state in zip(study.deadlines, world.deadlines, strict=True)
        for quantity in ("started", "met", "missed", "left")
    }


def levels(study: StudyDocument, world: World, minutes: float) -> Figures:
    """Return means, maxima and ends of lines and of cases inside, in regular time and overtime too."""
    steps = [step.id if step.kind not in INSTANT else "" for step in study.steps]
    types = [case_type.id for case_type in study.case_types]
    tables = {"step": (levels_of_steps, steps), "type": (levels_of_types, types)}
    figures: Figures = {}
    columns = ((LINE_LEVEL, "line"), (INSIDE_LEVEL, "inside"))
    for (subject, (levels_of, ids)), (column, quantity) in product(tables.items(), columns):
        here = levels_of(world, column)
        figures[f"{subject}/all/{quantity}/mean"] = ratio(float(here["area"].sum()), minutes)
        figures[f"{subject}/all/{quantity}/end"] = float(here["now"].sum())
        for each, level in zip(ids, here, strict=False):
            if each:
                figures |= _level(f"{subject}/{each}/{quantity}", level, minutes)
                if study.has_shifts:
                    figures |= _split(f"{subject}/{each}/{quantity}", level, world, minutes)
    for name, level in zip(shared_rooms(study), levels_of_rooms(world), strict=True):
        figures |= _level(f"line/{name}/inside", level, minutes)
    return figures


VALUES = {"adds": c.ValueClass.ADDS, "necessary": c.ValueClass.NECESSARY, "waste": c.ValueClass.WASTE}


def values(study: StudyDocument, world: World) -> Figures:
    """Return the minutes per case that add value, are necessary or are waste, and their shares of the time inside.

    Work counts by the value of its step; waiting and being blocked are waste; the way from step to step and
    work at steps without a value count as none of them.
    """
    figures: Figures = {}
    causes = causes_of_types(world.cause_minutes, world)
    worked = world.value_minutes.copy()
    worked[:, c.ValueClass.WASTE] += causes[:, k.FIRST_CAUSE :].sum(axis=1)
    left = world.type_tally.completed + world.type_tally.abandoned + world.type_tally.turned_away
    rows = [("type/all", worked.sum(axis=0), float(causes.sum()), float(left.sum()))]
    rows += [
        (f"type/{kind.id}", worked[number], float(causes[number].sum()), float(left[number]))
        for number, kind in enumerate(study.case_types)
    ]
    for subject, minutes, total, cases in rows:
        for name, column in VALUES.items():
            figures[f"{subject}/value:{name}/mean"] = ratio(float(minutes[column]), cases)
            figures[f"{subject}/value:{name}/share"] = ratio(float(minutes[column]), total)
    return figures


def level_shares(study: StudyDocument, world: World) -> dict[str, NDArray[np.float64]]:
    """Return for how large a share of the time each line, and the cases inside, were how many; see `least_of_bins`."""
    steps = [step.id if step.kind not in INSTANT else "" for step in study.steps]
    ids = [f"step/{each}" if each else "" for each in steps] + [f"type/{kind.id}" for kind in study.case_types]
    shares = {}
    for number, subject in enumerate(ids):
        for column, quantity in ((LINE_LEVEL, "line"), (INSIDE_LEVEL, "inside")) if subject else ():
            minutes = world.level_minutes[2 * number + column]
            total = minutes.sum()
            shares[f"{subject}/{quantity}"] = minutes / total if total > 0 else np.full(LEVEL_BINS, np.nan)
    return shares


def least_of_bins() -> list[int]:
    """Return the least number that falls into each bin of a level's shares: each one singly, then ever wider."""
    wider = [math.ceil(EXACT_BINS * 1.5**power) for power in range(LEVEL_BINS - EXACT_BINS)]
    return [*range(EXACT_BINS), *wider]


def _level(address: str, level: Level, minutes: float) -> Figures:
    return {
        f"{address}/mean": ratio(float(level.area), minutes),
        f"{address}/max": float(level.highest),
        f"{address}/end": float(level.now),
    }


def _split(address: str, level: Level, world: World, minutes: float) -> Figures:
    """Return the means in regular time and in overtime."""
    overtime = float(world.clock[0].overtime_minutes)
    beyond = float(level.overtime)
    return {
        f"{address}:regular/mean": ratio(float(level.area) - beyond, minutes - overtime),
        f"{address}:overtime/mean": ratio(beyond, overtime),
    }


def shared_rooms(study: StudyDocument) -> list[str]:
    """Return the names of shared waiting rooms, in the order of the plan."""
    named = [step.line.shared for step in study.steps if isinstance(step, Serve) and step.line.shared]
    return list(dict.fromkeys(named))


def causes(study: StudyDocument, world: World) -> Figures:
    """Return the minutes per case by cause of waiting: of a step's visits, of a type's cases, of all for a team.

    Those who gave up or were turned away count too, as far as they waited.
    """
    figures: Figures = {}
    of_steps, of_types = causes_of_steps(world.cause_minutes, world), causes_of_types(world.cause_minutes, world)
    left = world.type_tally.completed + world.type_tally.abandoned + world.type_tally.turned_away
    for number, step in enumerate(study.steps):
        if step.kind not in INSTANT:
            here = world.step_tally[number]
            gone = float(here.served + here.abandoned + here.turned_away)
            figures |= _causes(f"step/{step.id}", of_steps[number], gone)
    for number, case_type in enumerate(study.case_types):
        figures |= _causes(f"type/{case_type.id}", of_types[number], float(left[number]))
    figures |= _causes("type/all", of_types.sum(axis=0), float(left.sum()))
    for team, minutes in zip(study.teams, causes_of_teams(world.cause_minutes, world), strict=False):
        figures |= _causes(f"team/{team.id}", minutes, float(left.sum()))
    return figures


def _causes(subject: str, minutes: np.ndarray, cases: float) -> Figures:
    by_cause = {name: float(minutes[number]) for name, number in CAUSES.items()}
    by_cause[ANY_CAUSE] = sum(by_cause.values())
    return {f"{subject}/cause:{name}/mean": ratio(total, cases) for name, total in by_cause.items()}
