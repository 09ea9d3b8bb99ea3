"""Checks that every id is known and stands for one thing only."""

from collections import Counter
from collections.abc import Iterable, Iterator

from flowcore.checks.registry import soundness
from flowcore.problems import Problem, error_at
from flowcore.study import Study, elements, links_of
from flowcore.study.steps import Serve, WorkByType


@soundness
def ids_are_single(study: Study) -> Iterator[Problem]:
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
def steps_are_known(study: Study) -> Iterator[Problem]:
    """Streams and links lead to steps that exist."""
    known = {step.id for step in study.steps}
    for stream in study.streams:
        yield from _unknown([stream.to], known, f"streams/{stream.id}/to", "step")
    for step in study.steps:
        targets = [link.to for link in links_of(step)]
        yield from _unknown(targets, known, f"steps/{step.id}/next", "step")


@soundness
def teams_are_known(study: Study) -> Iterator[Problem]:
    """Needs ask for teams that exist."""
    known = {team.id for team in study.teams}
    for step in study.steps:
        if isinstance(step, Serve):
            needed = [need.team for need in step.needs]
            yield from _unknown(needed, known, f"steps/{step.id}/needs", "team")


@soundness
def case_types_are_known(study: Study) -> Iterator[Problem]:
    """Mixes, shares and times name case types that exist."""
    known = {case_type.id for case_type in study.case_types}
    for stream in study.streams:
        mixed = [part.type for part in stream.mix]
        yield from _unknown(mixed, known, f"streams/{stream.id}/mix", "case type")
    for step in study.steps:
        for link in links_of(step):
            yield from _unknown(link.share_by_type or {}, known, f"steps/{step.id}/next", "case type")
        for key in ("work", "time"):
            duration = getattr(step, key, None)
            if isinstance(duration, WorkByType):
                yield from _unknown(duration.by_type, known, f"steps/{step.id}/{key}", "case type")


def _unknown(ids: Iterable[str], known: set[str], where: str, kind: str) -> Iterator[Problem]:
    for each in ids:
        if each not in known:
            choices = ", ".join(sorted(known)[:8])
            yield error_at(
                where=where,
                what=f'There is no {kind} "{each}".',
                mend=f"Use one of {choices}." if choices else f"Add a {kind} first.",
            )
