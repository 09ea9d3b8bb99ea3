"""What a log says of the shares in which ways part."""

from collections.abc import Iterator
from dataclasses import dataclass, field

from flowcore.calibration.found import LogFound, StepFound
from flowcore.calibration.proposals.matching import Matching
from flowcore.calibration.proposals.proposal import PlaceSet, Proposal, Proposed
from flowcore.calibration.shares import Share, differ, share_of, whole_shares
from flowcore.study import StudyDocument
from flowcore.study.base import Id
from flowcore.study.graph import links_of, parts_by_share, shares_of, types_passing
from flowcore.study.steps import Delay, Exit, Link, Serve, SetTraits, Step

PLAIN = (Serve, Delay, SetTraits)
"""Steps through which a case goes on alone, whether a log tells of them or not."""
MANY_ELSEWHERE = 0.05
Ends = set[Id | None]


@dataclass
class _Parted:
    """How many went each of the ways that part at a step, in all and of each type, and how many went elsewhere."""

    ends: list[Ends]
    counts: list[int]
    rows: dict[Id, list[int]] = field(default_factory=dict)
    elsewhere: int = 0


def shares_of_ways(study: StudyDocument, found: LogFound, names: Matching) -> Iterator[Proposal]:
    """Yield what a log says of where cases go, for each step of a study at which ways part by shares.

    Ways are told apart by the steps that the log knows and to which each leads first; cases may come to where they part
    from several of these.
    """
    told = {id_ for id_ in names.steps.values() if id_ is not None}
    parted: dict[Id, _Parted] = {}
    passing = types_passing(study)
    for each in found.steps:
        step = study.step(names.steps.get(each.step) or "")
        parting = _parting(study, step, told) if step else None
        if parting is None:
            continue
        if parting.id not in parted:
            ends = [_ends(study, link.to, told) for link in links_of(parting)]
            parted[parting.id] = _Parted(ends, [0] * len(ends))
        _count(parted[parting.id], each, names)
    for id_, here in parted.items():
        are_apart = all(here.ends) and len([end for each in here.ends for end in each]) == len(
            set[Id | None]().union(*here.ends)
        )
        at = study.step(id_)
        if at is not None and are_apart and any(here.counts):
            yield _proposal(at, here, passing[id_])


def _count(parted: _Parted, found: StepFound, names: Matching) -> None:
    """Add those who went on from a step of the log."""
    counts, elsewhere = _counted(found.next, parted.ends, names.steps)
    parted.counts = [one + more for one, more in zip(parted.counts, counts, strict=True)]
    parted.elsewhere += elsewhere
    for name, shares in found.next_by_type.items():
        type_ = names.types.get(name)
        row, _ = _counted(shares, parted.ends, names.steps)
        if type_ is not None and any(row):
            before = parted.rows.get(type_, [0] * len(row))
            parted.rows[type_] = [one + more for one, more in zip(before, row, strict=True)]


def _parting(study: StudyDocument, step: Step, told: set[Id]) -> Step | None:
    """Return where ways part after a step, before any other that the log knows; None where they do not, by shares."""
    passed: set[Id] = set()
    here: Step | None = step
    while here is not None and here.id not in passed:
        passed.add(here.id)
        links = links_of(here)
        if len(links) > 1:
            return here if parts_by_share(here) and not any(link.when or link.otherwise for link in links) else None
        if not links or links[0].to in told:
            return None
        here = study.step(links[0].to)
    return None


def _ends(study: StudyDocument, start: Id, told: set[Id]) -> Ends:
    """Return the steps that the log knows and to which a way leads first, None where it leaves; empty if not told."""
    ends: Ends = set()
    passed: set[Id] = set()
    ahead = [start]
    while ahead:
        step = study.step(ahead.pop())
        if step is None or step.id in passed:
            continue
        passed.add(step.id)
        if step.id in told:
            ends.add(step.id)
        elif isinstance(step, Exit):
            ends.add(None)
        elif isinstance(step, PLAIN) or step.kind == "choose":
            ahead += [link.to for link in links_of(step)]
        else:
            return set()
    return ends


def _counted(shares: list[Share], ends: list[Ends], steps: dict[str, Id | None]) -> tuple[list[int], int]:
    """Return how many went each way, and how many where none leads."""
    counts, elsewhere = [0] * len(ends), 0
    for share in shares:
        to = None if share.to is None else steps.get(share.to, "")
        known = share.to is None or to is not None
        place = next((n for n, each in enumerate(ends) if known and to in each), None)
        if place is None:
            elsewhere += share.many
        else:
            counts[place] += share.many
    return counts, elsewhere


def _proposal(parting: Step, parted: _Parted, types: set[Id]) -> Proposal:
    counts, rows, elsewhere = parted.counts, parted.rows, parted.elsewhere
    links = links_of(parting)
    by_type = len(rows) > 1 and differ(list(rows.values()))
    written = [link.model_dump(mode="json", exclude_defaults=True) for link in links]
    bare = [{key: each[key] for key in each if key not in ("share", "share_by_type")} for each in written]
    new = [link | {"share": share} for link, share in zip(bare, whole_shares(counts), strict=True)]
    if by_type:
        if set(rows) >= types:
            new = bare
        of_type = {id_: whole_shares(row) for id_, row in rows.items()}
        new = [link | {"share_by_type": {id_: each[n] for id_, each in of_type.items()}} for n, link in enumerate(new)]
    at = f"/steps/{parting.id}/next"
    many = sum(counts)
    share = elsewhere / (many + elsewhere)
    return Proposal(
        kind=Proposed.SHARES,
        at=at,
        name=parting.name,
        what="which way cases go",
        old=written,
        new=new,
        set=[PlaceSet(at=at, value=new)],
        agrees=_agree(parting, links, rows or {"": counts}),
        method="counted, of each type" if by_type else "counted",
        evidence=f"{many:,} cases went on"
        + ("; types differ by more than chance." if by_type else f"; {_ends_in_words(counts)}."),
        doubt=f"{100 * share:.0f} % went on to where no way leads." if share > MANY_ELSEWHERE else "",
    )


def _agree(parting: Step, links: list[Link], rows: dict[Id, list[int]]) -> bool:
    """Say whether the old shares lie in the intervals of those counted."""
    for id_, row in rows.items():
        for old, many in zip(shares_of(parting, id_), row, strict=True):
            share = share_of(None, many, sum(row))
            if not share.low <= old <= share.high:
                return False
    return len(links) > 0


def _ends_in_words(counts: list[int]) -> str:
    shares = [share_of(None, many, sum(counts)) for many in counts]
    return ", ".join(f"{100 * each.share:.1f} % ({100 * each.low:.1f} to {100 * each.high:.1f})" for each in shares)
