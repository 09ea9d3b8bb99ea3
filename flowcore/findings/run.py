"""What a run says, in three to five sentences, those that matter most in this study first."""

from collections.abc import Sequence

from flowcore.findings.costs import on_costs
from flowcore.findings.losses import on_losses
from flowcore.findings.people import on_people
from flowcore.findings.source import Source
from flowcore.findings.targets import on_targets
from flowcore.findings.told import Told
from flowcore.findings.trust import on_doubts
from flowcore.findings.waits import on_causes, on_held, on_peaks, on_waits
from flowcore.results.run import Results
from flowcore.study import StudyDocument

RULES = (on_doubts, on_targets, on_losses, on_waits, on_held, on_causes, on_peaks, on_people, on_costs)
MOST_TOLD = 5
MOST_IN_SHORT = 2


def sentences(study: StudyDocument, results: Results) -> list[Told]:
    """Return what a run says, what matters most first; nothing of a run that has no replication yet."""
    if not results.replications:
        return []
    source = Source(study, results)
    told = [each for rule in RULES for each in rule(source)]
    return sorted(told, key=lambda each: -each.weight)[:MOST_TOLD]


def in_short(told: Sequence[Told]) -> str:
    """Return the one or two sentences that matter most, as text."""
    return " ".join(str(each) for each in told[:MOST_IN_SHORT])
