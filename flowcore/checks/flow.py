"""Checks that cases can get everywhere they should, and out again."""

from collections.abc import Iterable, Iterator

from flowcore.checks.registry import soundness
from flowcore.problems import Problem, error_at, warning_at
from flowcore.study import Study, links_of
from flowcore.study.steps import Choose, Exit


def _ways(study: Study) -> dict[str, list[str]]:
    return {step.id: [link.to for link in links_of(step)] for step in study.steps}


def _reach(starts: Iterable[str], ways: dict[str, list[str]]) -> set[str]:
    reached: set[str] = set()
    ahead = [start for start in starts if start in ways]
    while ahead:
        step = ahead.pop()
        if step not in reached:
            reached.add(step)
            ahead.extend(to for to in ways[step] if to in ways)
    return reached


@soundness
def every_step_leads_out(study: Study) -> Iterator[Problem]:
    """From every step some way leads to an exit."""
    backwards: dict[str, list[str]] = {step.id: [] for step in study.steps}
    for origin, targets in _ways(study).items():
        for target in targets:
            backwards.setdefault(target, []).append(origin)
    leaving = _reach((step.id for step in study.steps if isinstance(step, Exit)), backwards)
    for step in study.steps:
        if step.id in leaving:
            continue
        ends_here = not links_of(step)
        yield error_at(
            where=f"steps/{step.id}/next",
            what=f"{step.name} leads nowhere."
            if ends_here
            else f"{step.name} is in a loop without an exit: cases that come here never leave.",
            mend="Add a way to another step or an exit." if ends_here else "Add a way from this loop to an exit.",
        )


@soundness
def loops_take_time(study: Study) -> Iterator[Problem]:
    """No case can go round in circles through parting ways alone."""
    ways = _ways(study)
    choices = {step.id for step in study.steps if isinstance(step, Choose)}
    instant = {step: [to for to in ways[step] if to in choices] for step in choices}
    for step in study.steps:
        if step.id in choices and step.id in _reach(instant[step.id], instant):
            yield error_at(
                where=f"steps/{step.id}/next",
                what=f"{step.name} is in a loop of parting ways that takes no time.",
                mend="Put a step that takes time into the loop.",
            )


@soundness
def something_happens(study: Study) -> Iterator[Problem]:
    """A study has cases that come and steps that they come to."""
    if not study.steps:
        yield error_at(where="steps", what="There are no steps.", mend="Add a step and an exit.")
    if not study.streams:
        yield error_at(where="streams", what="No cases ever come.", mend="Add a stream.")


@soundness
def every_step_is_reached(study: Study) -> Iterator[Problem]:
    """Every step lies on a way from some stream."""
    reached = _reach((stream.to for stream in study.streams), _ways(study))
    for step in study.steps:
        if study.streams and step.id not in reached:
            yield warning_at(
                f"steps/{step.id}",
                f"No case ever reaches {step.name}.",
                "Lead a way or a stream to it, or delete it.",
            )
