"""How far the figures of a run can be trusted: what they rest on, and whether the run had settled."""

from collections.abc import Iterator

from flowcore.findings.source import Source
from flowcore.findings.told import Kind, Told, Weight
from flowcore.findings.words import plain
from flowcore.results.run import Results
from flowcore.results.statistics import Estimate
from flowcore.results.steady_state import doubts, proposed_warm_up
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import spoken
from flowcore.study.runs import ONE_REPLICATION
from flowcore.thresholds import IMPRECISE, WORTH_TELLING

WAIT = "type/all/wait/mean"


def on_doubts(source: Source) -> Iterator[Told]:
    """Yield what makes the figures doubtful: the doubts themselves, gravest first, and that they are not precise."""
    for doubt in doubts(source.study, source.results):
        weight = Weight.WORTHLESS if doubt.where != ONE_REPLICATION.where else Weight.UNCERTAIN
        is_wrong = weight is Weight.WORTHLESS
        sentence = [plain(doubt.what)]
        yield Told(kind=Kind.DOUBT, weight=weight, sentence=sentence, is_wrong=is_wrong, mend=doubt.mend)
    share = _relative_half_width(source.figure(WAIT))
    if share is not None and share > IMPRECISE and source.mean(WAIT) >= WORTH_TELLING:
        words = "The mean wait is not known well yet: more replications make it sharper."
        yield Told(kind=Kind.DOUBT, weight=Weight.ASIDE, sentence=[plain(words)])


def what_it_rests_on(study: StudyDocument, results: Results) -> str:
    """Return how many replications of what the figures are, and how precise the mean wait is; "" without any."""
    many = len(results.replications)
    if many == 0:
        return ""
    cases = results.figure("type/all/completed").mean or 0.0
    replications = f"{many} {'replication' if many == 1 else 'replications'} of {study.run.length}"
    return f"{replications}, {cases:,.0f} cases in each. {_precision(results)}".strip()


def _precision(results: Results) -> str:
    wait = results.figure(WAIT) if results.has(WAIT) else None
    share = _relative_half_width(wait)
    if share is None:
        return ""
    return f"The mean wait is good to ± {100 * share:.2g} %, with intervals at {100 * results.confidence:g} %."


def _relative_half_width(found: Estimate | None) -> float | None:
    return found.half_width / found.mean if found and found.half_width is not None and found.mean else None


def what_to_leave_out(study: StudyDocument, results: Results) -> str:
    """Return by how much more the beginning had better be left out; "" where that is enough or cannot be told."""
    proposed = proposed_warm_up(study, results)
    if proposed is None or proposed <= minutes(study.run.warm_up):
        return ""
    return warm_up_words(proposed)


def has_it_settled(study: StudyDocument, results: Results) -> str:
    """Return whether a run has settled, in words; "" of a run without replications."""
    if not results.replications:
        return ""
    proposed, left_out = proposed_warm_up(study, results), minutes(study.run.warm_up)
    if proposed is None or proposed > left_out or left_out == 0:
        return warm_up_words(proposed)
    return f"It has settled: the first {spoken(left_out)} are left out, and what follows is alike."


def warm_up_words(proposed: float | None) -> str:
    """Return what a proposal to leave out the beginning says; None is none."""
    if proposed is None:
        return "Too short to tell, or not settled within its first half: lengthen the run, or judge by the picture."
    if proposed == 0:
        return "It is alike from its beginning on: no warm-up is needed."
    return f"The first {spoken(proposed)} are unlike the rest: a warm-up of {spoken(proposed)} leaves them out."
