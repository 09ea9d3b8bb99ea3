"""Every figure that a run of a study can yield, in words, and found by typing."""

import re
from collections.abc import Iterator
from itertools import islice

from pydantic import BaseModel

from flowcore.results.catalogue import GONE, KINDS, FigureKind, Title, titled
from flowcore.study import StudyDocument
from flowcore.study.clocks import checkpoint_pairs
from flowcore.study.document import checkpoints_of
from flowcore.study.steps import Exit, Serve

MOST_FOUND = 60
USUAL = ("mean", "p50", "p90", "p95", "none", "", "max", "per:day", "per:case")
"""The statistics that are looked for, in this order."""
OF_LINES = ("wait", "line", "abandoned", "turned-away")
"""What is told of steps that have a line."""
_LIMIT = re.compile(r"\b(?:within|under)\s+(\d+(?:\.\d+)?)\s*(s|min|h|d)\w*")


_BY = re.compile(r"\b(?:done |gone )?by\s+(\d{1,2}):(\d\d)")


def _gone_by(found: re.Match[str]) -> str:
    """Return the share of days that are done by a time of day."""
    return f"day/all/{GONE}/within:{60 * int(found[1]) + int(found[2])}min"


class Found(BaseModel):
    """A figure by its address and its words."""

    address: str
    title: Title


def search_figures(study: StudyDocument, text: str, of: str = "") -> list[Found]:
    """Return figures of a study whose words hold all of those typed, the widest and most usual first.

    "within 30 s" or "under 30 s" asks for the shares of cases within that time, "by 18:00" for the share of days that
    are done by then. `of` is how addresses are to begin.
    """
    typed = text.lower()
    if (by := _BY.search(typed)) is not None:
        return _holding(study, _beginning(iter([_gone_by(by)]), of), _BY.sub(" ", typed))
    limit = _LIMIT.search(typed)
    if limit is None:
        return _holding(study, _beginning(addresses_of(study), of), typed)
    own = _beginning(addresses_of(study), "measure/")
    found = _holding(study, _beginning(own, of), typed)
    found += _holding(study, _beginning(_within(study, limit[1] + limit[2]), of), _LIMIT.sub(" ", typed))
    return found[:MOST_FOUND]


def _beginning(addresses: Iterator[str], of: str) -> Iterator[str]:
    return (address for address in addresses if address.startswith(of))


def _holding(study: StudyDocument, addresses: Iterator[str], typed: str) -> list[Found]:
    """Return the first figures whose words hold all that is typed."""
    named = ((address, titled(address, study)) for address in addresses)
    found = (
        Found(address=address, title=title)
        for address, title in named
        if title and all(word in _words(title) for word in typed.split())
    )
    return list(islice(found, MOST_FOUND))


def _words(title: Title) -> str:
    return f"{title.name} {title.of}".lower()


def addresses_of(study: StudyDocument) -> Iterator[str]:
    """Yield the addresses of a study's figures, by statistic: of all cases first, then of each part."""
    for statistic in USUAL:
        for kind in KINDS:
            if statistic in kind.statistics:
                yield from _of_kind(study, kind, statistic)


def _within(study: StudyDocument, time: str) -> Iterator[str]:
    """Yield the shares of cases whose wait, or time in all, is within a time."""
    for kind in KINDS:
        if kind.quantity in ("wait", "total"):
            yield from _of_kind(study, kind, f"within:{time}")


def _of_kind(study: StudyDocument, kind: FigureKind, statistic: str) -> Iterator[str]:
    for subject in kind.subjects:
        for element in _elements(study, subject, kind.quantity):
            if (element, statistic) == ("all", "max") and kind.quantity in ("line", "inside"):
                continue
            yield "/".join(part for part in (subject, element, kind.quantity, statistic) if part)


def _elements(study: StudyDocument, subject: str, quantity: str) -> list[str]:
    """Return the ids of a subject, that of all together first; nothing of subjects that nobody looks for."""
    match subject:
        case "day":
            return ["all"]
        case "type":
            return ["all", *(each.id for each in study.case_types if len(study.case_types) > 1)]
        case "step":
            waits = [each.id for each in study.steps if isinstance(each, Serve) and each.needs]
            others = [] if quantity in OF_LINES else [each.id for each in study.steps if each.id not in waits]
            return waits + [each for each in others if not _is_exit(study, each)]
        case "outcome":
            return [each.id for each in study.steps if isinstance(each, Exit)]
        case "stream":
            return [each.id for each in study.streams]
        case "span":
            return [each.id for each in study.spans]
        case "checkpoint":
            return [*checkpoints_of(study), *(":".join(pair) for pair in checkpoint_pairs(study))]
        case "measure":
            return [each.id for each in study.measures if getattr(each, quantity) is not None]
        case "deadline":
            return [each.id for each in study.deadlines]
        case "team" | "cost/team":
            return [each.id for each in study.teams]
        case "cost":
            return [""]
    return []


def _is_exit(study: StudyDocument, step_id: str) -> bool:
    return isinstance(study.step(step_id), Exit)
