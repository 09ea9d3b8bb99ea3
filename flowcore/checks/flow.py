"""Checks that cases can get everywhere they should, and out again."""

from collections.abc import Iterator

from flowcore.checks.registry import doubt, soundness
from flowcore.problems import Problem, error_at, warning_at
from flowcore.study import StudyDocument
from flowcore.study.graph import all_ways, backwards, link_ways, links_of, reach, side_ways
from flowcore.study.steps import Choose, Exit, Fork, Join, Scatter, Serve, SetTraits, Signal


@soundness
def every_step_leads_out(study: StudyDocument) -> Iterator[Problem]:
    """From every step but an exit a way leads on, and some way to an exit."""
    leaving = reach((step.id for step in study.steps if isinstance(step, Exit)), backwards(all_ways(study)))
    for step in study.steps:
        ends_here = not isinstance(step, Exit) and not links_of(step)
        if step.id in leaving and not ends_here:
            continue
        yield error_at(
            where=f"steps/{step.id}/next",
            what=f"{step.name} leads nowhere."
            if ends_here
            else f"{step.name} is in a loop without an exit: cases that come here never leave.",
            mend="Add a way to another step or an exit." if ends_here else "Add a way from this loop to an exit.",
        )


@soundness
def loops_take_time(study: StudyDocument) -> Iterator[Problem]:
    """No case can go round in circles through parting ways alone."""
    ways = {step.id: [link.to for link in links_of(step) if link.travel is None] for step in study.steps}
    choices = {step.id for step in study.steps if isinstance(step, Choose | SetTraits | Fork | Scatter)}
    instant = {step: [to for to in ways[step] if to in choices] for step in choices}
    for step in study.steps:
        if step.id in choices and step.id in reach(instant[step.id], instant):
            yield error_at(
                where=f"steps/{step.id}/next",
                what=f"{step.name} is in a loop of parting ways that takes no time.",
                mend="Put a step that takes time into the loop.",
            )


@soundness
def something_happens(study: StudyDocument) -> Iterator[Problem]:
    """A study has cases that come and steps that they come to."""
    if not study.steps:
        yield error_at(where="steps", what="There are no steps.", mend="Add a step and an exit.")
    if not study.streams:
        yield error_at(where="streams", what="No cases ever come.", mend="Add a stream.")


@soundness
def every_step_is_reached(study: StudyDocument) -> Iterator[Problem]:
    """Every step lies on a way from some stream."""
    reached = reach((stream.to for stream in study.streams), all_ways(study))
    for step in study.steps:
        if study.streams and step.id not in reached:
            yield warning_at(
                f"steps/{step.id}",
                f"No case ever reaches {step.name}.",
                "Lead a way or a stream to it, or delete it.",
            )


@soundness
def forks_come_together(study: StudyDocument) -> Iterator[Problem]:
    """Every fork names a join, and each of its branches can reach it; the case itself may leave before."""
    steps = {step.id: step for step in study.steps}
    ways = link_ways(study)
    for step in study.steps:
        if not isinstance(step, Fork) or step.join not in steps:
            continue
        if not isinstance(steps[step.join], Join):
            yield error_at(
                where=f"steps/{step.id}/join",
                what=f"{steps[step.join].name} is not a join, so the branches never come together.",
                mend="Name a step of the kind join.",
            )
        leaves_by_itself = step.next[:1] if step.next and step.next[0].chance is None else []
        for link in step.next[len(leaves_by_itself) :]:
            if link.to in steps and link.to != step.join and step.join not in reach([link.to], ways):
                yield error_at(
                    where=f"steps/{step.id}/next",
                    what=f"The branch to {steps[link.to].name} never comes to {steps[step.join].name}.",
                    mend="Lead it there, or take the branch away.",
                )


@soundness
def those_who_leave_know_where(study: StudyDocument) -> Iterator[Problem]:
    """Whoever is turned away, balks or gives up is sent somewhere."""
    for step in study.steps:
        if isinstance(step, Serve):
            yield from _without_a_way(step)


def _without_a_way(step: Serve) -> Iterator[Problem]:
    line = step.line
    pairs = (
        ("full_to", line.when_full == "turn-away" and line.max is not None, line.full_to, "is turned away"),
        ("balks_to", line.balk_at is not None, line.balks_to, "balks"),
        ("gives_up_to", line.patience is not None, line.gives_up_to, "gives up"),
    )
    for key, leaves, to, what in pairs:
        if leaves and to is None:
            yield error_at(
                where=f"steps/{step.id}/line/{key}",
                what=f"Whoever {what} at {step.name} has nowhere to go.",
                mend=f'Say where with "{key}".',
            )


@soundness
def marks_are_on_the_way(study: StudyDocument) -> Iterator[Problem]:
    """What starts at one step can end at the other: deadlines, spans and own measures of a time."""
    ways = all_ways(study)
    pairs = [(f"deadlines/{each.id}", each.name, each.from_, each.to) for each in study.deadlines]
    pairs += [(f"spans/{each.id}", each.name, each.from_.step, each.to.step) for each in study.spans]
    pairs += [
        (f"measures/{each.id}", each.name, each.time.from_.step, each.time.to.step)
        for each in study.measures
        if each.time is not None and each.time.from_ is not None
    ]
    for where, name, first, last in pairs:
        if first in ways and last in ways and last not in reach([first], ways):
            yield warning_at(
                where, f"{name} starts and never ends: no way leads from one step to the other.", "Choose other steps."
            )


@soundness
def blocking_cannot_lock(study: StudyDocument) -> Iterator[Problem]:
    """In no loop does every step keep what it has while it waits for room in the next."""
    people = {team.id for team in study.teams if team.kind == "people"}
    serves = [step for step in study.steps if isinstance(step, Serve)]
    holding = {step.id: step for step in serves if _holds_while_blocked(step, people)}
    ways = {
        step.id: [link.to for link in step.next if link.to in holding and _can_block(holding[link.to])]
        for step in holding.values()
    }
    for step in holding.values():
        if step.id in reach(ways[step.id], ways):
            yield warning_at(
                f"steps/{step.id}/line",
                f"From {step.name} cases can come back to it through lines that may all be full: "
                "then each waits for another to move, for ever.",
                "Give one line of the loop no limit, or let blocked cases free their people.",
            )
            return


def _can_block(step: Serve) -> bool:
    return step.line.max is not None and step.line.when_full == "block"


def _holds_while_blocked(step: Serve, people: set[str]) -> bool:
    """Say whether a case that is blocked after a step keeps members that others there wait for."""
    keeps_places = any(need.team is not None and need.team not in people for need in step.needs)
    return bool(step.needs) and (keeps_places or step.when_blocked == "keeps-people")


@doubt
def messages_come(study: StudyDocument) -> Iterator[Problem]:
    """A message is told where cases, their branches or their companions come before who waits for it has gone on."""
    names = {step.id: step.name for step in study.steps}
    for step in study.steps:
        told = step.clears.messages if isinstance(step, Signal) and step.clears else []
        if not names.keys() >= set(told) or not told:
            continue
        without = all_ways(study) | {step.id: side_ways(study)[step.id]}
        if not reach((stream.to for stream in study.streams), without).intersection(told):
            places = " or ".join(names[each] for each in told)
            yield warning_at(
                where=f"steps/{step.id}/clears",
                what=f"{step.name} waits for a message from {places}, to which nobody comes before.",
                mend="Choose a step that a branch or a companion of the case comes to meanwhile.",
            )
