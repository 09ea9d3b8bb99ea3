"""Holds the oracle's replication against the kernel's, case by case."""

from collections import defaultdict
from typing import Any

import numpy as np

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.world import Plan
from flowcore.kernel.run.loop import close_books
from flowcore.kernel.run.worlds import Deadlock, EndlessInstant, go_until, new_world, start_afresh
from flowcore.results.counts import CAUSES
from flowcore.simulate import Replicator
from flowcore.study import StudyDocument, minutes
from tests.oracle.cases import INF
from tests.oracle.engine import GoesRound, Oracle

NOTE_KINDS = (
    "ARRIVED",
    "CAME",
    "JOINED_LINE",
    "BEGAN",
    "PAUSED_WORK",
    "RESUMED",
    "HANDED_BACK",
    "ENDED_WORK",
    "WAS_BLOCKED",
    "GAVE_UP",
    "BALKED",
    "TURNED_AWAY",
    "SET_OUT",
    "WAS_HELD",
    "GATHERED",
    "DIVERTED",
    "SENT",
    "DEPARTED",
    "SHIFT_BEGAN",
    "SHIFT_ENDED",
    "BREAK_BEGAN",
    "CAME_BACK",
    "WAS_INTERRUPTED",
    "MISSED_SHIFT",
)
STATES = ("off", "idle", "working", "walking", "break", "interrupted", "unpaid", "absent")


def difference(study: StudyDocument) -> str | None:
    """Return in words where the two engines first differ in a study; None where they agree.

    Where the kernel says that the service stands still, no case may move in the oracle from then on.
    """
    replicator = Replicator(study)
    world, has_ended = traced(replicator._plan, study)
    oracle = Oracle(study, replicator._plan)
    try:
        oracle.run()
    except GoesRound:
        return None if world is None else "the oracle goes round at one instant"
    if world is None:
        return "the kernel goes round at one instant"
    if not has_ended:
        return logs(world, oracle, only_cases=True)
    return (
        logs(world, oracle)
        or departures(world, oracle)
        or causes(world, oracle)
        or visits(world, oracle)
        or deadlines(world, oracle)
        or member_states(world, oracle)
    )


def traced(plan: Plan, study: StudyDocument) -> tuple[Any, bool]:
    """Return the kernel's settled world after the first replication with the whole log, and whether it came to the end.

    The world is None where a replication goes round at one instant.
    """
    world = new_world(plan, study.run.seed, 0)
    clock = world.clock[0]
    clock.tracing, clock.trace_until = 1, INF
    warm_up = minutes(study.run.warm_up)
    try:
        if warm_up > 0:
            world, _ = go_until(world, warm_up)
            start_afresh(world)
        world, _ = go_until(world, minutes(study.run.length))
    except Deadlock as still:
        return still.world, False
    except EndlessInstant:
        return None, False
    close_books(world)
    return world, True


def logs(world: Any, oracle: Oracle, only_cases: bool = False) -> str | None:
    kernel = defaultdict(list)
    notes = world.notes[: world.clock[0].notes]
    for at, kind, case, step, member in notes[["at", "kind", "case", "step", "member"]].tolist():
        if kind == k.Note.JOINED_LINE:
            continue
        who = ("case", case) if case else ("member", member)
        kernel[who].append((at, NOTE_KINDS[kind], step, member))
    other = defaultdict(list)
    for note in oracle.notes:
        who = ("case", note.case) if note.case else ("member", note.member)
        other[who].append((note.at, note.kind, note.step, note.member))
    first = None
    for who in sorted({*kernel, *other}):
        if only_cases and who[0] == "member":
            continue
        one, two = settled(kernel[who]), settled(other[who])
        for turn in range(max(len(one), len(two))):
            a = one[turn] if turn < len(one) else None
            b = two[turn] if turn < len(two) else None
            if not same(a, b):
                at = min(each[0] for each in (a, b) if each is not None)
                if first is None or at < first[0] - 1e-9:
                    first = at, f"{who}: kernel {a}, oracle {b}\n  kernel before: {one[max(0, turn - 4) : turn]}"
                break
    return None if first is None else first[1]


def settled(notes: list[Any]) -> list[Any]:
    """Return notes in order, those of one instant by their kinds: branches of one case move side by side."""
    return sorted(notes, key=lambda each: (round(each[0], 6), each[1:]))


def same(a: Any, b: Any) -> bool:
    return a is not None and b is not None and abs(a[0] - b[0]) < 1e-6 and a[1:] == b[1:]


def departures(world: Any, oracle: Oracle) -> str | None:
    names = ("left_at", "wait", "work", "blocked", "travel", "total", "cost")
    rows = sorted(world.departures[: world.clock[0].departures], key=in_order)
    if len(rows) != len(oracle.departures):
        return f"{len(rows)} left, in the oracle {len(oracle.departures)}"
    for row, mine in zip(rows, sorted(oracle.departures, key=in_order), strict=True):
        for name in names:
            if abs(row[name] - mine[name]) > 1e-6:
                return f"case {mine['case']}: {name} {row[name]}, oracle {mine[name]} ({mine})"
    return None


def causes(world: Any, oracle: Oracle) -> str | None:
    study = oracle.study
    whose = [("step", each.id) for each in study.steps]
    whose += [("type", each.id) for each in study.case_types] or [("type", "")]
    whose += [("team", each.id) for each in study.teams]
    for row, (kind, each) in enumerate(whose):
        for name, column in CAUSES.items():
            kernel, mine = world.cause_minutes[row, column], oracle.causes[kind, each, name]
            if abs(kernel - mine) > 1e-6 * max(1.0, abs(mine)):
                return f"{kind} {each} cause {name}: {kernel}, oracle {mine}"
    return None


def deadlines(world: Any, oracle: Oracle) -> str | None:
    for row, each in zip(world.deadlines, oracle.study.deadlines, strict=True):
        mine = oracle.deadlines[each.id]
        for name in ("started", "met", "missed", "left"):
            if row[name] != mine[name]:
                return f"deadline {each.id}: {name} {row[name]}, oracle {mine[name]}"
    return None


def in_order(row: Any) -> tuple[float, ...]:
    return tuple(round(float(row[name]), 4) for name in ("left_at", "total", "wait", "work", "cost"))


def visits(world: Any, oracle: Oracle) -> str | None:
    own, besides = ("step", "joined_at", "wait", "work"), ("blocked", "travel", "cost")
    names, many = (*own, *besides), world.clock[0].visits
    kernel = sorted(
        tuple(round(float(value), 5) + 0.0 for value in (*(row[name] for name in own), *extra))
        for row, extra in zip(world.visits[:many], world.visit_extras[:many], strict=True)
    )
    mine = sorted(tuple(round(float(row[name]), 5) + 0.0 for name in names) for row in oracle.visits)
    for one, other in zip(kernel, mine, strict=False):
        if not np.allclose(one, other, atol=3e-5):
            return f"visit {dict(zip(names, one, strict=True))}, oracle {other}"
    return None if len(kernel) == len(mine) else f"{len(kernel)} visits, oracle {len(mine)}"


def member_states(world: Any, oracle: Oracle) -> str | None:
    for member in oracle.members:
        for column, state in enumerate(STATES):
            for overtime in (False, True):
                kernel = world.member_time[member.number, column + len(STATES) * overtime]
                mine = member.time[state, overtime]
                if abs(kernel - mine) > 1e-6:
                    who = f"member {member.number} of {member.team.id}"
                    return f"{who}: {state} overtime={overtime} {kernel}, oracle {mine}"
    return None
