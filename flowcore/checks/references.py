"""Checks that every id is known and stands for one thing only."""

import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from itertools import chain

from pydantic_core import PydanticCustomError

from flowcore.checks.registry import soundness
from flowcore.problems import Problem, error_at
from flowcore.study import StudyDocument, elements, minutes
from flowcore.study.calendars import DAYS, TIME_OF_DAY
from flowcore.study.case_types import Categories, Trait
from flowcore.study.graph import line_ways, links_of
from flowcore.study.rules import Condition, conditions_of
from flowcore.study.steps import Fork, Gather, Need, Serve, SetTraits, Signal, Step, WorkByType


@soundness
def ids_are_single(study: StudyDocument) -> Iterator[Problem]:
    """Every id is used once within its list."""
    counts = Counter((part, element.id) for part, element in elements(study))
    for (part, element_id), count in counts.items():
        if count > 1:
            yield error_at(
                where=f"{part}/{element_id}",
                what=f'The id "{element_id}" is used {count} times.',
                mend="Give each its own id.",
            )


@soundness
def steps_are_known(study: StudyDocument) -> Iterator[Problem]:
    """Streams, links, lines, signals, deadlines and spans name steps that exist."""
    known = {step.id for step in study.steps}
    for where, step_id in _named_steps(study):
        yield from unknown([step_id], known, where, "step")


def _named_steps(study: StudyDocument) -> Iterator[tuple[str, str]]:
    for stream in study.streams:
        yield f"streams/{stream.id}/to", stream.to
    for step in study.steps:
        for link in links_of(step):
            yield f"steps/{step.id}/next", link.to
        for key, to in line_ways(step):
            yield f"steps/{step.id}/{key}", to
        if isinstance(step, Fork):
            yield f"steps/{step.id}/join", step.join
        if isinstance(step, Signal) and step.clears:
            for named in (step.clears.after_step, *step.clears.messages):
                if named is not None:
                    yield f"steps/{step.id}/clears", named
        for where, need in _needs_of(step):
            if need.keep_until:
                yield where, need.keep_until
    for deadline in study.deadlines:
        yield f"deadlines/{deadline.id}/from", deadline.from_
        yield f"deadlines/{deadline.id}/to", deadline.to
        yield f"deadlines/{deadline.id}/then", deadline.then.send or deadline.then.divert or ""
    for span in study.spans:
        yield f"spans/{span.id}/from", span.from_.step
        yield f"spans/{span.id}/to", span.to.step


def _needs_of(step: Step) -> Iterator[tuple[str, Need]]:
    for need in step.needs if isinstance(step, Serve) else []:
        yield f"steps/{step.id}/needs", need
    for link in links_of(step):
        if link.escort is not None:
            yield f"steps/{step.id}/next", link.escort


@soundness
def teams_are_known(study: StudyDocument) -> Iterator[Problem]:
    """Needs ask for teams that exist, and for the same member as a need that has a name."""
    known = {team.id for team in study.teams}
    named = {need.as_ for step in study.steps for _, need in _needs_of(step) if need.as_}
    for step in study.steps:
        for where, need in _needs_of(step):
            asked = [need.team] if need.team is not None else need.prefer
            yield from unknown(asked, known, where, "team")
            if need.same_as is not None and need.same_as not in named:
                yield error_at(
                    where=where,
                    what=f'No need is named "{need.same_as}" with "as".',
                    mend="Name the need whose member should be the same.",
                )
            if need.same_as is not None and need.count > 1:
                yield error_at(
                    where=where, what="The same member can be asked for only once.", mend="Let the count be 1."
                )


@soundness
def case_types_are_known(study: StudyDocument) -> Iterator[Problem]:
    """Mixes, shares and times name case types that exist."""
    known = {case_type.id for case_type in study.case_types}
    for stream in study.streams:
        mixed = [part.type for mix in (stream.mix, *(each.mix for each in stream.mix_by_hour)) for part in mix]
        yield from unknown(mixed, known, f"streams/{stream.id}/mix", "case type")
        if stream.kind == "dates":
            dated = dict.fromkeys(arrival.type for arrival in stream.arrivals if arrival.type)
            yield from unknown(dated, known, f"streams/{stream.id}/arrivals", "case type")
    for step in study.steps:
        for link in links_of(step):
            yield from unknown(link.share_by_type or {}, known, f"steps/{step.id}/next", "case type")
        for key in ("work", "time"):
            duration = getattr(step, key, None)
            if isinstance(duration, WorkByType):
                yield from unknown(duration.by_type, known, f"steps/{step.id}/{key}", "case type")


@soundness
def calendars_are_known(study: StudyDocument) -> Iterator[Problem]:
    """Streams, steps and doors follow calendars that exist."""
    known = {calendar.id for calendar in study.calendars}
    named = [(f"streams/{stream.id}/open", stream.open) for stream in study.streams]
    named += [(f"steps/{step.id}/open", getattr(step, "open", None)) for step in study.steps]
    named.append(("run/doors", study.run.doors))
    for where, calendar in named:
        yield from unknown([calendar] if calendar else [], known, where, "calendar")


@soundness
def places_are_known(study: StudyDocument) -> Iterator[Problem]:
    """Steps, teams and ways name places that exist."""
    known = {place.id for place in study.site.places}
    named = [(f"steps/{s.id}/places", [s.place] if s.place else [p.place for p in s.places]) for s in study.steps]
    named += [(f"teams/{team.id}/place", [team.place] if team.place else []) for team in study.teams]
    named += [("site/pairs", [pair.from_, pair.to]) for pair in study.site.pairs]
    for where, places in named:
        yield from unknown(places, known, where, "place")


@soundness
def traits_are_known(study: StudyDocument) -> Iterator[Problem]:
    """Whatever writes or reads a trait names one that exists, and one of its values."""
    traits = {trait.id: trait for trait in study.traits}
    for where, values in chain(written_traits(study), _traits_with_times(study), first_values(study)):
        yield from unknown(values, set(traits), where, "trait")
        for trait_id, value in values.items():
            if trait_id in traits:
                yield from _unknown_categories(traits[trait_id], value, where)


def _unknown_categories(trait: Trait, value: object, where: str) -> Iterator[Problem]:
    """Name the categories that a trait does not have."""
    named = list(value.shares) if isinstance(value, Categories) else [value] if isinstance(value, str) else []
    for each in named:
        if each not in trait.values:
            choices = ", ".join(trait.values) or "a number"
            yield error_at(where=where, what=f'{trait.name} has no value "{each}".', mend=f"Use one of {choices}.")


def written_traits(study: StudyDocument) -> Iterator[tuple[str, dict[str, object]]]:
    """Yield every place that gives traits values, with the values."""
    for kind in study.case_types:
        yield f"case_types/{kind.id}/traits", dict(kind.traits)
    for stream in study.streams:
        yield f"streams/{stream.id}/traits", dict(stream.traits)
        if stream.kind == "dates":
            for arrival in stream.arrivals:
                if arrival.traits:
                    yield f"streams/{stream.id}/arrivals", dict(arrival.traits)
    for step in study.steps:
        if isinstance(step, SetTraits):
            yield f"steps/{step.id}/traits", dict(step.traits)


def first_values(study: StudyDocument) -> Iterator[tuple[str, dict[str, object]]]:
    """Yield what each trait is where nothing else sets it."""
    for trait in study.traits:
        yield f"traits/{trait.id}/start", {trait.id: trait.start}


def _traits_with_times(study: StudyDocument) -> Iterator[tuple[str, dict[str, object]]]:
    for step in study.steps:
        for key in ("work", "time"):
            work = getattr(step, key, None)
            if isinstance(work, WorkByType):
                for trait, times in work.by_trait.items():
                    for value in times:
                        yield f"steps/{step.id}/{key}", {trait: value}


@soundness
def facts_are_known(study: StudyDocument) -> Iterator[Problem]:
    """Rules ask about things that exist, and hold them against values that they can have."""
    for step in study.steps:
        for link in links_of(step):
            for condition in conditions_of(link.when) if link.when else []:
                yield from condition_problems(study, condition, f"steps/{step.id}/next")


def condition_problems(study: StudyDocument, condition: Condition, where: str) -> Iterator[Problem]:
    """Yield what a condition asks about that is not there, and values that its fact cannot have."""
    known = {
        "trait": {trait.id for trait in study.traits},
        "visits": {step.id for step in study.steps},
        "line": {step.id for step in study.steps if isinstance(step, Serve | Signal | Gather)},
        "free": {team.id for team in study.teams},
    }
    nouns = {"trait": "trait", "visits": "step", "line": "step with a line", "free": "team"}
    if condition.kind in known:
        yield from unknown([condition.about], known[condition.kind], where, nouns[condition.kind])
    yield from _value_problems(study, condition, where)


def _value_problems(study: StudyDocument, condition: Condition, where: str) -> Iterator[Problem]:
    values = condition.value if isinstance(condition.value, list) else [condition.value]
    texts = [value for value in values if isinstance(value, str)]
    if condition.kind == "type":
        yield from unknown(texts, {kind.id for kind in study.case_types}, where, "case type")
    if condition.kind == "message":
        yield from unknown(texts, {step.id for step in study.steps}, where, "step")
    if condition.kind == "trait":
        trait = next((each for each in study.traits if each.id == condition.about), None)
        if trait is not None:
            yield from unknown(texts, set(trait.values), where, f"value of {trait.name}")
    if condition.kind not in _VALUES_OF_FACTS:
        return
    right, mend = _VALUES_OF_FACTS[condition.kind]
    for value in values:
        if not (right(value) if isinstance(value, str) else condition.kind not in ("type", "message", "weekday")):
            yield error_at(where, f'"{str(value)[:40]}" is no value that "{condition.fact}" can have.', mend)


def _is_duration(text: str) -> bool:
    try:
        return minutes(text) >= 0
    except PydanticCustomError:
        return False


def _is_time_of_day(text: str) -> bool:
    return re.fullmatch(TIME_OF_DAY, text) is not None


_TIME = (_is_duration, 'Give a time, such as "20 min".')
_NUMBER = (lambda _text: False, "Give a number.")
_VALUES_OF_FACTS: dict[str, tuple[Callable[[str], bool], str]] = {
    "type": (lambda _text: True, "Give the id of a case type."),
    "message": (lambda _text: True, "Give the id of a step."),
    "in-system": _TIME,
    "waited": _TIME,
    "waited-here": _TIME,
    "time-of-day": (_is_time_of_day, 'Give a time of day, such as "12:30".'),
    "weekday": (DAYS.__contains__, f"Use one of {', '.join(DAYS)}."),
    "visits": _NUMBER,
    "line": _NUMBER,
    "free": _NUMBER,
}


def unknown(ids: Iterable[str], known: set[str], where: str, kind: str) -> Iterator[Problem]:
    """Yield a problem for each id that is not known."""
    for each in ids:
        if each not in known:
            choices = ", ".join(sorted(known)[:8])
            yield error_at(
                where=where,
                what=f'There is no {kind} "{each}".',
                mend=f"Use one of {choices}." if choices else f"Add a {kind} first.",
            )
