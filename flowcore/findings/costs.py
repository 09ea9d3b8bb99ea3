"""What a day costs, and what of it is not work in regular time."""

from collections.abc import Iterator

from flowcore.findings.source import Source
from flowcore.findings.told import Kind, Told, Weight
from flowcore.findings.words import listed_pieces, plain
from flowcore.thresholds import A_PART

PARTS = {
    "idle": " is paid waiting for work",
    "overtime": " is overtime",
    "waiting": " stands for cases' waiting",
    "inside": " stands for cases' time inside",
    "penalty": " is for penalties",
    "changeover": " is for changeovers",
}


def on_costs(source: Source) -> Iterator[Told]:
    """Yield what a day of opening and a case cost, and the parts that are no work, if they are a tenth or more."""
    every_day, whole = source.mean("cost/total/per:day"), source.mean("cost/total/per:open-day")
    if whole <= 0:
        return
    per, day = ("per:open-day", "A day of opening") if whole > every_day else ("per:day", "A day")
    sentence = [plain(f"{day} costs "), source.told(f"cost/total/{per}")]
    costs = {line: source.mean(f"cost/{line}/{per}") for line in PARTS}
    told = sorted((line for line in PARTS if costs[line] >= A_PART * whole), key=lambda line: -costs[line])
    parts = [[source.told(f"cost/{line}/{per}"), plain(PARTS[line])] for line in told]
    if parts:
        parts[0].insert(1, plain(" of it"))
        sentence += [plain(", "), *listed_pieces(parts)]
    if source.figure("cost/total/per:case").mean is not None:
        sentence += [plain("; a completed case costs "), source.told("cost/total/per:case")]
    yield Told(kind=Kind.COST, weight=Weight.COST, sentence=[*sentence, plain(".")])
