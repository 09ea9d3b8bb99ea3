"""The way of one case through a replication: its waits with their causes, its work with whom, its travel."""

import numpy as np
from pydantic import BaseModel

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.world import World
from flowcore.problems import StudyError, error_at
from flowcore.replay.recorder import Piece, Recorder
from flowcore.reports.event_log import member_name
from flowcore.results.catalogue import CAUSE_SHORT
from flowcore.results.counts import CAUSES
from flowcore.simulate import Replicator
from flowcore.study import StudyDocument, minutes
from flowcore.study.steps import Exit

MOST_LOOKS = 20_000
"""So often it is looked at most what a case waits for; of a longer way not every moment."""
_CAUSE_OF = {int(account): name for name, account in CAUSES.items()}
_DOING = {
    k.Doing.ON_THE_WAY: "travels",
    k.Doing.WAITING: "waits",
    k.Doing.AT_WORK: "work",
    k.Doing.BLOCKED: "blocked",
    k.Doing.RIDING: "together",
}


class Stretch(BaseModel):
    """From when until when (minutes since the start) a case did one thing: what, where, for what cause, with whom.

    A branch or a companion of the case has a `lane` of its own, from 1 on.
    """

    at: float
    until: float
    doing: str
    step: str
    name: str
    cause: str
    whom: list[str]
    lane: int


class Way(BaseModel):
    """The way of a case by its number, of a type: all stretches, in order.

    Where it has left, `leaves_by` is the name of the exit, and `gives_up` says whether cases give up there.
    """

    case: int
    type: str
    stretches: list[Stretch]
    leaves_by: str | None
    gives_up: bool


def way_of(study: StudyDocument, number: int, case: int) -> Way:
    """Return the way of a case of a replication. Raises StudyError where there is no such case."""
    replicator = Replicator(study)
    notes = replicator.trace(number, case=case)
    found = notes.notes[: int(notes.clock[0].notes)]
    if not len(found):
        raise StudyError([error_at("case", f"There is no case {case:,}.", "Cases are counted from 1.")])
    begins, length = float(found[0].at), minutes(study.run.length)
    left = found[found.kind == k.Note.DEPARTED]
    ends = float(left[-1].at) if len(left) else length
    before = max(0.0, float(np.nextafter(begins, -np.inf)))
    piece = Recorder(study, number).piece(before, ends)
    world = Recorder(study, number).watched_from(before)
    stretches = sorted(_stretches(study, replicator, world, piece, case), key=lambda each: (each.at, each.lane))
    kind = study.case_types[int(found[0].type)].name if study.case_types else ""
    door = study.steps[int(left[-1].step)] if len(left) else None
    return Way(
        case=case,
        type=kind,
        stretches=stretches,
        leaves_by=door.name if door else None,
        gives_up=isinstance(door, Exit) and door.abandoned,
    )


def _stretches(study: StudyDocument, replicator: Replicator, world: World, piece: Piece, case: int) -> list[Stretch]:
    """Look at a case at every instant at which anything changes, and put together what stays the same."""
    times = np.unique(np.append(piece.changes.at, piece.begins))
    times = times[:: max(1, len(times) // MOST_LOOKS)]
    going: dict[int, Stretch] = {}
    done: list[Stretch] = []
    lanes: dict[int, int] = {}
    for at in times.tolist():
        world.clock[0].changes = world.clock[0].notes = 0
        world, _ = replicator.go_as_far(world, at)
        seen = _looked_at(study, world, case, at, lanes)
        for record, before in list(going.items()):
            now = seen.get(record)
            if now is None or _differ(before, now):
                done.append(before.model_copy(update={"until": at}))
                del going[record]
        for record, now in seen.items():
            going.setdefault(record, now)
    done += [each.model_copy(update={"until": max(each.at, piece.ends)}) for each in going.values()]
    return [each for each in done if each.until > each.at]


def _differ(one: Stretch, other: Stretch) -> bool:
    return (one.doing, one.step, one.cause, one.whom) != (other.doing, other.step, other.cause, other.whom)


def _looked_at(study: StudyDocument, world: World, case: int, at: float, lanes: dict[int, int]) -> dict[int, Stretch]:
    """Return what the records of a case do now, by record."""
    records = world.seen_cases[: int(world.clock[0].records_seen)]
    there = np.flatnonzero(np.asarray(records.number) == case).tolist()
    for gone in lanes.keys() - set(there):
        del lanes[gone]
    found: dict[int, Stretch] = {}
    for record in there:
        here = records[record]
        if record not in lanes:
            taken = set(lanes.values())
            lanes[record] = next(lane for lane in range(len(taken) + 1) if lane not in taken)
        step = study.steps[int(here.step)]
        found[record] = Stretch(
            at=at,
            until=at,
            doing=_DOING[k.Doing(here.doing)],
            step=step.id,
            name=step.name,
            cause=CAUSE_SHORT.get(_CAUSE_OF.get(_account_of(world, record), ""), ""),
            whom=_whom(study, world, record),
            lane=lanes[record],
        )
    return found


def _account_of(world: World, record: int) -> int:
    """Return what a case waits for now, NONE where it does not wait."""
    here = world.cases[record]
    if here.state == k.CaseState.IN_LINE:
        return int(world.pools[world.plan.lines[here.line].pool].cause)
    return int(here.cause) if here.state in (k.CaseState.WAITING, k.CaseState.BLOCKED) else k.NONE


def _whom(study: StudyDocument, world: World, record: int) -> list[str]:
    names, member = [], int(world.cases[record].first_held)
    while member != k.NONE:
        names.append(member_name(study, world, member))
        member = int(world.members[member].next_held)
    return [name for name in names if name]
