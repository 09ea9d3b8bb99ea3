"""The flow of a study as a graph: its ways, who may take them, and what is reached along them.

A *side way* is one that a case goes only when something does not go as planned: a line that is full
or too long, lost patience, a deadline. `tests/shared/flow.json` holds these laws for both languages.
"""

from collections.abc import Collection, Iterable, Mapping, Sequence

from flowcore.study.base import Id
from flowcore.study.document import StudyDocument
from flowcore.study.steps import Choose, Exit, Fork, Link, Serve, Step
from flowcore.study.streams import Stream

Ways = Mapping[Id, Sequence[Id]]


def links_of(step: Step) -> list[Link]:
    """Return the ways out of a step; an exit has none."""
    return [] if isinstance(step, Exit) else step.next


def link_ways(study: StudyDocument) -> dict[Id, list[Id]]:
    """Return where the ways out of each step lead."""
    return {step.id: [link.to for link in links_of(step)] for step in study.steps}


def line_ways(step: Step) -> list[tuple[str, Id]]:
    """Return the steps that a case may be sent to from a step's line, each with the key that says so."""
    if not isinstance(step, Serve):
        return []
    line = step.line
    named = (("line/full_to", line.full_to), ("line/balks_to", line.balks_to), ("line/gives_up_to", line.gives_up_to))
    return [(key, to) for key, to in named if to is not None]


def side_ways(study: StudyDocument) -> dict[Id, list[Id]]:
    """Return where a case may be sent from each step otherwise than along its ways: by its line, or at a deadline."""
    ways = {step.id: [to for _, to in line_ways(step)] for step in study.steps}
    for deadline in study.deadlines:
        if deadline.from_ in ways:
            ways[deadline.from_] += [to for to in (deadline.then.send, deadline.then.divert) if to is not None]
    return ways


def all_ways(study: StudyDocument) -> dict[Id, list[Id]]:
    """Return where a case may go from each step: by its ways out, by side ways, and from a fork to its join."""
    ways, aside = link_ways(study), side_ways(study)
    return {
        step.id: ways[step.id] + aside[step.id] + ([step.join] if isinstance(step, Fork) else [])
        for step in study.steps
    }


def reach(starts: Iterable[Id], ways: Ways) -> set[Id]:
    """Return the steps that can be come to from some steps, those themselves too; unknown ones are left aside."""
    reached: set[Id] = set()
    ahead = [start for start in starts if start in ways]
    while ahead:
        step = ahead.pop()
        if step not in reached:
            reached.add(step)
            ahead.extend(to for to in ways[step] if to in ways)
    return reached


def backwards(ways: Ways) -> dict[Id, list[Id]]:
    """Return the ways the other way round."""
    back: dict[Id, list[Id]] = {step: [] for step in ways}
    for origin, targets in ways.items():
        for target in targets:
            back.setdefault(target, []).append(origin)
    return back


def picks_by_line(step: Step) -> bool:
    """Say whether each case picks its way by the lines ahead, or they take them in turn: shares have no say."""
    return isinstance(step, Choose) and step.pick in ("shortest-line", "in-turn")


def parts_by_share(step: Step) -> bool:
    """Say whether some cases leave a step by shares: it neither forks nor picks in another way."""
    if isinstance(step, Fork) or picks_by_line(step):
        return False
    return not all(link.when is not None for link in links_of(step))


def shares_of(step: Step, case_type: Id) -> list[float]:
    """Return the share of each way for one case type, as written.

    A single way without a share has 1; a way without any share has 0, and so has a way by rule; beside
    ways by rule, the one that is marked as otherwise has 1.
    """
    links = links_of(step)
    if any(link.otherwise for link in links) and any(link.when for link in links):
        return [float(link.otherwise and link.when is None) for link in links]
    by_share = [link for link in links if link.when is None]
    if len(by_share) == 1 and by_share[0].share is None and not by_share[0].share_by_type:
        return [float(link is by_share[0]) for link in links]
    return [
        0.0 if link.when is not None else (link.share_by_type or {}).get(case_type, link.share or 0.0) for link in links
    ]


def may_take(step: Step, case_type: Id) -> list[bool]:
    """Return, for each way out, whether cases of a type may take it at all."""
    links = links_of(step)
    if isinstance(step, Fork):
        return [link.chance is None or link.chance > 0 for link in links]
    if picks_by_line(step):
        return [True for _ in links]
    shares = shares_of(step, case_type)
    return [link.when is not None or share > 0 for link, share in zip(links, shares, strict=True)]


def types_of(study: StudyDocument, stream: Stream) -> set[Id]:
    """Return the case types that a stream brings at some time; without a mix, the first of the study."""
    mixes = [stream.mix, *(part.mix for part in stream.mix_by_hour)]
    brought = {part.type for mix in mixes for part in mix if part.share > 0}
    if stream.kind == "dates":
        brought |= {arrival.type for arrival in stream.arrivals if arrival.type}
    has_others = stream.kind != "dates" or not all(arrival.type for arrival in stream.arrivals)
    if has_others and not stream.mix:
        brought |= {case_type.id for case_type in study.case_types[:1]} or {""}
    return brought


def types_passing(study: StudyDocument) -> dict[Id, set[Id]]:
    """Return, for each step, the case types that can come there from some stream."""
    passing: dict[Id, set[Id]] = {step.id: set() for step in study.steps}
    starts: dict[Id, list[Id]] = {}
    for stream in study.streams:
        for kind in types_of(study, stream):
            starts.setdefault(kind, []).append(stream.to)
    aside = side_ways(study)
    for kind, first in starts.items():
        for step in reach(first, _ways_for(study, kind, aside)):
            passing[step].add(kind)
    return passing


def _ways_for(study: StudyDocument, case_type: Id, aside: Ways) -> dict[Id, list[Id]]:
    """Return where cases of a type may go from each step."""
    ways: dict[Id, list[Id]] = {}
    for step in study.steps:
        taken = zip(links_of(step), may_take(step, case_type), strict=True)
        ways[step.id] = [*aside[step.id], *(link.to for link, may in taken if may)]
        if isinstance(step, Fork):
            ways[step.id].append(step.join)
    return ways


def passed_between(study: StudyDocument, first: Id, last: Id) -> set[Id]:
    """Return the steps that a case may come to after one step along the ways out, up to another and that one too."""
    ways = link_ways(study)
    return reach(ways.get(first, []), ways | {last: []})


def first_reached(study: StudyDocument, start: Id, passed: Collection[str]) -> set[Id]:
    """Return the steps to which a case that enters at one comes through steps of some kinds alone, those too."""
    return reach([start], ways_through(study, passed))


def ways_through(study: StudyDocument, passed: Collection[str]) -> dict[Id, list[Id]]:
    """Return where the ways out of steps of some kinds lead; those of others are left out."""
    kinds = {step.id: step.kind for step in study.steps}
    return {step: targets if kinds[step] in passed else [] for step, targets in link_ways(study).items()}
