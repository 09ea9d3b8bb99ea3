"""What a log says of the traits that cases start with."""

from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel

from flowcore.calibration.found import LogFound
from flowcore.calibration.proposals.matching import Matching, plain
from flowcore.calibration.proposals.proposal import PlaceSet, Proposal, Proposed
from flowcore.calibration.shares import Share, whole_shares
from flowcore.calibration.traits import TraitFound
from flowcore.study import StudyDocument
from flowcore.study.case_types import Categories, Trait


def traits_started(study: StudyDocument, found: LogFound, names: Matching) -> Iterator[Proposal]:
    """Yield what each trait of a study starts with that a column of the log is called like: of all, or of each type."""
    by_name = {plain(each.name): each for each in found.traits}
    for trait in study.traits:
        seen = by_name.get(plain(trait.name)) or by_name.get(plain(trait.id))
        if seen is not None:
            yield from _numbers(trait, seen) if trait.kind == "number" else _categories(study, trait, seen, names)


def _numbers(trait: Trait, seen: TraitFound) -> Iterator[Proposal]:
    if seen.numbers is not None:
        yield _proposal(f"/traits/{trait.id}/start", trait, "what it starts with", trait.start, seen.numbers, seen)


def _categories(study: StudyDocument, trait: Trait, seen: TraitFound, names: Matching) -> Iterator[Proposal]:
    types = {id_: shares for kind, shares in seen.by_type.items() if (id_ := names.types.get(kind))}
    for case_type in study.case_types:
        if case_type.id in types:
            at = f"/case_types/{case_type.id}/traits/{trait.id}"
            old = case_type.traits.get(trait.id, trait.start)
            yield from _of_categories(at, trait, f": {case_type.name}", old, types[case_type.id], seen)
    if not types:
        yield from _of_categories(f"/traits/{trait.id}/start", trait, "", trait.start, seen.shares, seen)


def _of_categories(
    at: str, trait: Trait, whose: str, old: Any, shares: list[Share], seen: TraitFound
) -> Iterator[Proposal]:
    known = {plain(value): value for value in trait.values}
    counted = [(known[plain(each.to or "")], each) for each in shares if plain(each.to or "") in known]
    if not any(each.many for _, each in counted):
        return
    parts = whole_shares([each.many for _, each in counted])
    new = {"shares": {value: share for (value, _), share in zip(counted, parts, strict=True)}}
    lost = sum(each.many for each in shares) - sum(each.many for _, each in counted)
    found = _proposal(at, trait, f"what it starts with{whose}", old, new, seen)
    agrees = all(each.low <= _share(old, value) <= each.high for value, each in counted)
    doubt = f"{lost:,} cases carry what is none of its values." if lost else ""
    yield found.model_copy(update={"agrees": agrees, "doubt": doubt, "method": "counted"})


def _share(old: Any, value: str) -> float:
    """Return the share of cases that start with a value."""
    return old.shares.get(value, 0.0) if isinstance(old, Categories) else float(old == value)


def _proposal(at: str, trait: Trait, what: str, old: Any, new: Any, seen: TraitFound) -> Proposal:
    return Proposal(
        kind=Proposed.TRAIT,
        at=at,
        name=trait.name,
        what=what,
        old=old.model_dump(mode="json") if isinstance(old, BaseModel) else old,
        new=new,
        set=[PlaceSet(at=at, value=new)],
        agrees=None,
        method="as observed",
        evidence=f"{seen.cases:,} cases carry it.",
    )
