"""What is said of a replication that cannot go on: it stands still, goes round without end, or has no more room."""

import numpy as np

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.world import World
from flowcore.problems import Problem, error_at
from flowcore.study import StudyDocument

_MOST_NAMED = 5
_CAUSE: dict[int, str] = {
    k.Account.NEXT_LINE: "room in the next line",
    k.Account.SIGNAL: "a signal",
    k.Account.BATCH: "the rest of a batch",
    k.Account.BRANCHES: "its other branches",
    k.Account.PERSON: "a particular person",
}


def deadlock(study: StudyDocument, world: World) -> Problem:
    """Return the error of a replication that stands still: who waits where for whom."""
    waiting = np.flatnonzero(world.cases.state >= k.CaseState.IN_LINE)
    named = [_waits(study, world, int(case)) for case in waiting[:_MOST_NAMED]]
    first = world.plan.steps[world.cases[int(waiting[0])].step].document if len(waiting) else 0
    hours = float(world.clock[0].now) / 60
    return error_at(
        where=f"steps/{study.steps[first].id}",
        what=f"After {hours:.1f} h the service stands still with {world.clock[0].inside} cases inside: "
        + "; ".join(named)
        + ".",
        mend="Let the ones named be released earlier, or let more of them be there.",
    )


def no_room(study: StudyDocument, world: World) -> Problem:
    """Return the error of a replication that outgrows the memory: how many cases it has inside, and how many visits."""
    clock = world.clock[0]
    return error_at(
        where="run/length",
        what=f"After {float(clock.now) / 60:.1f} h the memory is full: {clock.inside} cases are inside, "
        f"{clock.visits} visits and {clock.departures} departures have been counted.",
        mend="Let fewer cases come, have enough members for them, or shorten the run.",
    )


def endless_instant(study: StudyDocument, world: World) -> Problem:
    """Return the error of a replication in which so much happens at one instant that its clock never goes on."""
    hours = float(world.clock[0].now) / 60
    busy = np.bincount(world.plan.steps.document[world.cases.step[world.cases.since == world.clock[0].now]])
    first = int(busy.argmax()) if len(busy) else 0
    return error_at(
        where=f"steps/{study.steps[first].id}",
        what=f"After {hours:.1f} h the clock stands still: without end something happens at the same instant.",
        mend="Look for a loop, a gap or an interruption that may take no time, and give it some.",
    )


def _waits(study: StudyDocument, world: World, case: int) -> str:
    who = world.cases[case]
    step = study.steps[world.plan.steps[who.step].document]
    held = _held_by(study, world, case)
    holding = f", holding {', '.join(held)}," if held else ""
    return f"case {who.number} at {step.name}{holding} waits for {_what(study, world, case)}"


def _held_by(study: StudyDocument, world: World, case: int) -> list[str]:
    names = []
    member = world.cases[case].first_held
    while member != k.NONE:
        team = int(world.members[member].team)
        if team < len(study.teams):
            names.append(study.teams[team].name)
        member = world.members[member].next_held
    return names


def _what(study: StudyDocument, world: World, case: int) -> str:
    who = world.cases[case]
    if who.state != k.CaseState.IN_LINE:
        return _CAUSE.get(int(who.cause), "a member who is away")
    pool = world.plan.lines[who.line].pool
    team = int(world.pools[pool].team)
    return study.teams[team].name if 0 <= team < len(study.teams) else "room at its place"
