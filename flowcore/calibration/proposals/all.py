"""All that a log proposes for a study, and what of the log has no place in it."""

from collections.abc import Iterator

from pydantic import BaseModel

from flowcore.calibration.dates import MOST_DATES
from flowcore.calibration.found import LogFound
from flowcore.calibration.proposals.carried import traits_started
from flowcore.calibration.proposals.demand import Claims, demand_of
from flowcore.calibration.proposals.matching import Matching, matched
from flowcore.calibration.proposals.proposal import Proposal
from flowcore.calibration.proposals.rosters import rosters_of
from flowcore.calibration.proposals.times import times_of
from flowcore.calibration.proposals.ways import shares_of_ways
from flowcore.study import StudyDocument


class Proposals(BaseModel):
    """What a log proposes for a study, what its names stand for, and in sentences what of it has no place there."""

    matching: Matching
    proposals: list[Proposal]
    aside: list[str]


def proposals_for(study: StudyDocument, found: LogFound, chosen: Matching) -> Proposals:
    """Return what a log says beside what a study has: when cases come, how long all takes, which ways, who works."""
    names = matched(found, study, chosen)
    return Proposals(
        matching=names,
        proposals=[
            *demand_of(study, found, names),
            *traits_started(study, found, names),
            *_of_steps(study, found, names),
            *shares_of_ways(study, found, names),
            *rosters_of(study, found, names),
        ],
        aside=list(_aside(study, found, names)),
    )


def _of_steps(study: StudyDocument, found: LogFound, names: Matching) -> Iterator[Proposal]:
    for each in found.steps:
        step = study.step(names.steps.get(each.step) or "")
        if step is not None:
            yield from times_of(study, step, each, names.types)


def _aside(study: StudyDocument, found: LogFound, names: Matching) -> Iterator[str]:
    for stream in study.streams:
        if stream.kind == "dates" and not found.dates:
            yield f"{stream.name}: more than {MOST_DATES:,} came, too many to be taken one by one."
        if stream.kind == "appointments" and not found.booked:
            yield f"{stream.name}: no column of the log says for when cases are booked."
    claims = Claims(study, found, names)
    if many := sum(each.many for each in claims.nobodys if names.steps.get(each.step)):
        yield f"{many:,} arrivals could come by no stream, or by several: they are left aside."
