"""Checks that shares make a whole."""

from collections.abc import Iterator
from itertools import chain

from flowcore.checks.references import first_values, written_traits
from flowcore.checks.registry import soundness
from flowcore.problems import Problem, error_at
from flowcore.study import StudyDocument
from flowcore.study.case_types import Categories
from flowcore.study.graph import links_of, parts_by_share, shares_of, types_passing
from flowcore.study.steps import Choose

TOLERANCE = 1e-9


def _percent(share: float) -> str:
    return f"{round(share * 100, 4):g} %"


@soundness
def ways_make_a_whole(study: StudyDocument) -> Iterator[Problem]:
    """The ways out of a step share all of its cases, for every case type."""
    passing = types_passing(study)
    for step in study.steps:
        if not links_of(step) or not parts_by_share(step):
            continue
        known = {kind.id for kind in study.case_types} or {""}
        coming = passing[step.id] & known or known
        sums = {kind: sum(shares_of(step, kind)) for kind in sorted(coming)}
        wrong = {kind: total for kind, total in sums.items() if abs(total - 1) > TOLERANCE}
        if not wrong:
            continue
        same_for_all = len(wrong) == len(sums) and len({round(total, 9) for total in wrong.values()}) == 1
        names = {kind.id: kind.name for kind in study.case_types}
        for kind, total in list(wrong.items())[: 1 if same_for_all else None]:
            whom = "" if same_for_all else f" for {names[kind]}"
            yield error_at(
                where=f"steps/{step.id}/next",
                what=f"The shares of the ways out{whom} sum to {_percent(total)}.",
                mend=_mend(1 - total),
            )


@soundness
def rules_leave_a_way(study: StudyDocument) -> Iterator[Problem]:
    """Where ways go by rule, one of them is for the cases for which no rule holds."""
    for step in study.steps:
        links = links_of(step)
        if links and all(link.when is not None for link in links):
            yield error_at(
                where=f"steps/{step.id}/next",
                what="A case for which no rule holds has no way to go.",
                mend='Let one way be "otherwise".',
            )
        others = [link for link in links if link.otherwise]
        if others and (len(others) > 1 or not any(link.when for link in links)):
            yield error_at(
                where=f"steps/{step.id}/next",
                what="More than one way is for the cases for which no rule holds."
                if len(others) > 1
                else "A way is for the cases for which no rule holds, and there is no rule.",
                mend='Let one way be "otherwise", beside ways with a rule.',
            )
        if any(link.otherwise and (link.when or link.share or link.share_by_type) for link in links) or (
            others and any(link.when is None and not link.otherwise for link in links)
        ):
            yield error_at(
                where=f"steps/{step.id}/next",
                what="Beside the way for which no rule holds another has a share, or it has a rule itself.",
                mend='Give each other way a rule, or take "otherwise" away and give shares.',
            )
        if isinstance(step, Choose) and step.pick == "rule" and not any(link.when for link in links):
            yield error_at(
                where=f"steps/{step.id}/next", what="The way is picked by rule, and there is none.", mend="Add a rule."
            )


@soundness
def places_make_a_whole(study: StudyDocument) -> Iterator[Problem]:
    """Places picked by share cover all cases."""
    for step in study.steps:
        total = sum(option.share or 0.0 for option in step.places)
        if step.places and step.pick_place == "share" and abs(total - 1) > TOLERANCE:
            yield error_at(
                where=f"steps/{step.id}/places",
                what=f"The shares of the places sum to {_percent(total)}.",
                mend=_mend(1 - total),
            )


@soundness
def mixes_make_a_whole(study: StudyDocument) -> Iterator[Problem]:
    """The mix of a stream covers all of its cases."""
    for stream, mix in [(s, mix) for s in study.streams for mix in (s.mix, *(each.mix for each in s.mix_by_hour))]:
        total = sum(part.share for part in mix)
        if mix and abs(total - 1) > TOLERANCE:
            yield error_at(
                where=f"streams/{stream.id}/mix",
                what=f"The shares of the mix sum to {_percent(total)}.",
                mend=_mend(1 - total),
            )


@soundness
def chances_make_a_whole(study: StudyDocument) -> Iterator[Problem]:
    """The chances of a trait's categories sum to 1."""
    for where, values in chain(written_traits(study), first_values(study)):
        for value in values.values():
            total = sum(value.shares.values()) if isinstance(value, Categories) else 1.0
            if abs(total - 1) > TOLERANCE:
                yield error_at(where, f"The chances of the categories sum to {_percent(total)}.", _mend(1 - total))


def _mend(missing: float) -> str:
    verb = "Add" if missing > 0 else "Take away"
    return f"{verb} {_percent(abs(missing))} so that they make 100 %."
