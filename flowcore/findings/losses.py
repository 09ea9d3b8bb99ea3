"""Who gives up, and who is turned away."""

from collections.abc import Iterator

from flowcore.findings.source import Source
from flowcore.findings.told import Kind, Told, Weight
from flowcore.findings.words import Sentence, plain, value
from flowcore.results.catalogue import OF_ARRIVED
from flowcore.thresholds import LOST_IS_TOLD

LOSSES = (
    ("abandoned", " cases give up (", "the line is left most at "),
    ("turned-away", " cases are turned away (", "most are at "),
)


def on_losses(source: Source) -> Iterator[Told]:
    """Yield what share of the cases gives up or is turned away, where it is worth telling, and where most do."""
    for quantity, what, where in LOSSES:
        share = f"type/all/{quantity}/{OF_ARRIVED}"
        if source.mean(share) < LOST_IS_TOLD:
            continue
        lost, came = source.told(f"type/all/{quantity}"), source.told("type/all/arrived")
        sentence = [lost, plain(" of "), came, plain(what), source.told(share), plain(")")]
        yield Told(
            kind=Kind.LOST, weight=Weight.LOST, sentence=[*sentence, *_where(source, quantity, where), plain(".")]
        )


def _where(source: Source, quantity: str, words: str) -> Sentence:
    steps = [step for step in source.study.steps if source.mean(f"step/{step.id}/{quantity}") > 0]
    if not steps:
        return []
    most = max(steps, key=lambda step: source.mean(f"step/{step.id}/{quantity}"))
    address = f"step/{most.id}/{quantity}"
    if len(steps) == 1:
        return [plain(", at "), value(most.name, address)]
    return [plain(f"; {words}"), value(most.name, address), plain(", by "), source.told(address)]
