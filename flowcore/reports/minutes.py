"""Where the minutes of cases go: by case type and by step, each bar made of parts that add up to it."""

from collections.abc import Iterator, Mapping

from pydantic import BaseModel

from flowcore.results.catalogue import ANY_CAUSE, CAUSE_SHORT
from flowcore.results.samples import INSTANT
from flowcore.results.statistics import Estimate
from flowcore.study import StudyDocument
from flowcore.study.steps import Step

Figures = Mapping[str, Estimate]
WORK, TRAVEL = "work", "travel"
PART_WORDS = {WORK: "at work", **CAUSE_SHORT, TRAVEL: "on the way"}
"""What minutes are spent with, in the order in which they are drawn."""
PASSING = "time passes"


class Minutes(BaseModel):
    """Minutes of a case spent in one way, and the address of the figure."""

    part: str
    words: str
    minutes: float
    address: str


class MinutesBar(BaseModel):
    """The minutes of a case on its whole way, or of a visit to a step. The parts add up to the `whole`.

    `total` is the figure that says so with an interval; a step's is that of its waiting, with work beside it.
    """

    subject: str
    id: str
    name: str
    whole: float
    total: Estimate
    address: str
    parts: list[Minutes]


def minutes_of_types(study: StudyDocument, figures: Figures) -> list[MinutesBar]:
    """Return the minutes of each case type on its way, and of all where there are several; nothing of those without."""
    kinds = [("all", "All cases"), *((kind.id, kind.name) for kind in study.case_types)]
    if len(kinds) == 2:
        del kinds[0]
    bars = (one_bar(figures, "type", each, name) for each, name in kinds)
    return [bar for bar in bars if bar is not None]


def one_bar(figures: Figures, subject: str, element: str, name: str) -> MinutesBar | None:
    """Return the bar of one case type, or of one step; None where no case came."""
    if subject == "type":
        return _bar(figures, subject, element, name, f"type/{element}/total/mean", (WORK, TRAVEL))
    return _bar(figures, subject, element, name, f"step/{element}/cause:{ANY_CAUSE}/mean", (WORK,))


def minutes_at_steps(study: StudyDocument, figures: Figures) -> list[MinutesBar]:
    """Return the minutes of a visit to each step that takes time, also of those who gave up there."""
    steps: Iterator[Step] = (step for step in study.steps if step.kind not in INSTANT)
    bars = ((step, one_bar(figures, "step", step.id, step.name)) for step in steps)
    return [_passing(bar) if step.kind == "delay" else bar for step, bar in bars if bar is not None]


def _passing(bar: MinutesBar) -> MinutesBar:
    """Call what passes at a delay, where nobody works, by its name."""
    parts = [part.model_copy(update={"words": PASSING}) if part.part == WORK else part for part in bar.parts]
    return bar.model_copy(update={"parts": parts})


def _bar(
    figures: Figures, subject: str, element: str, name: str, total: str, beside: tuple[str, ...]
) -> MinutesBar | None:
    """Return a bar; None where no case came."""
    whole_figure = figures.get(total)
    if whole_figure is None or whole_figure.mean is None:
        return None
    addresses = {part: f"{subject}/{element}/{part}/mean" for part in beside}
    addresses |= {cause: f"{subject}/{element}/cause:{cause}/mean" for cause in CAUSE_SHORT}
    told = {part: figures.get(addresses[part]) for part in PART_WORDS if part in addresses}
    found = {part: (figure.mean if figure else None) or 0.0 for part, figure in told.items()}
    parts = [
        Minutes(part=part, words=PART_WORDS[part], minutes=minutes, address=addresses[part])
        for part, minutes in found.items()
        if minutes > 0
    ]
    whole = sum(part.minutes for part in parts)
    return MinutesBar(
        subject=subject, id=element, name=name, whole=whole, total=whole_figure, address=total, parts=parts
    )
