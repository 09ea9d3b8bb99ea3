"""Who waits how long, when and where it is worst, and why."""

from collections.abc import Iterator

import numpy as np

from flowcore.findings.source import Source
from flowcore.findings.told import Kind, Told, Weight
from flowcore.findings.words import Sentence, listed_pieces, plain, value
from flowcore.results.catalogue import ANY_CAUSE, CAUSE_WORDS
from flowcore.study.calendars import DAY_NAMES
from flowcore.study.needs import teams_of
from flowcore.study.steps import Exit, Gather, Serve, Signal, Step
from flowcore.thresholds import A_PART, FEW, MOST, NEAR_THE_PEAK, PEAK, SOME_OF_THE_WEEK, WORTH_TELLING

HALF, NINE_TENTHS, MEAN, NONE = (f"type/all/wait/{name}" for name in ("p50", "p90", "mean", "none"))
MOST_CAUSES = 3


def on_waits(source: Source) -> Iterator[Told]:
    """Yield how long cases wait, or take in casework, and which few make the mean where few do."""
    if source.figure(HALF).mean is None:
        nothing: Sentence = [plain("No case came to its end.")]
        yield Told(kind=Kind.WAIT, weight=Weight.WAIT, sentence=nothing)
        return
    told = _times_in_all(source) if source.is_casework else [*_waits(source), *_few(source)]
    yield Told(kind=Kind.WAIT, weight=Weight.WAIT, sentence=told)


def _times_in_all(source: Source) -> Sentence:
    half, most = source.told("type/all/total/p50"), source.told("type/all/total/p90")
    return [plain("Half of the cases are through within "), half, plain(", one in ten takes over "), most, plain(".")]


def _waits(source: Source) -> Sentence:
    nobody_waits = [source.told(NONE), plain(" of the cases do not wait at all")]
    if source.mean(NINE_TENTHS) <= 0:
        return [*nobody_waits, plain(".")]
    one_in_ten = [source.told(NINE_TENTHS), plain(".")]
    if source.mean(NONE) >= MOST:
        return [*nobody_waits, plain(", one in ten waits over "), *one_in_ten]
    return [plain("Half of the cases wait under "), source.told(HALF), plain(", one in ten over "), *one_in_ten]


def _few(source: Source) -> Sentence:
    """Say of which few cases most of the minutes are, by how they left, and how it is with most of the others."""
    exits = [step for step in source.study.steps if isinstance(step, Exit)]
    many = {step.id: source.mean(f"outcome/{step.id}/arrived") for step in exits}
    minutes = {step.id: many[step.id] * source.mean(f"outcome/{step.id}/wait/mean") for step in exits}
    whole, all_ = sum(minutes.values()), sum(many.values())
    few = next((s for s in exits if many[s.id] <= FEW * all_ and minutes[s.id] >= MOST * whole), None)
    if few is None or source.mean(MEAN) < WORTH_TELLING:
        return []
    others = max((step for step in exits if step is not few), key=lambda step: many[step.id])
    return [
        plain(" The mean of "), source.told(MEAN), plain(" is made by few: those who leave by "),
        value(few.name, f"outcome/{few.id}/arrived"), plain(" wait "), source.told(f"outcome/{few.id}/wait/mean"),
        plain(" on average, those by "), value(others.name, f"outcome/{others.id}/arrived"), plain(" "),
        source.told(f"outcome/{others.id}/wait/mean"), plain("."),
    ]  # fmt: skip


def worst_step(source: Source) -> Serve | None:
    """Return the step in whose line most minutes are waited; None where there is hardly any waiting."""
    steps = [step for step in source.study.steps if isinstance(step, Serve) and step.needs]
    minutes = {step.id: _a_visit(source, step) * source.mean(f"step/{step.id}/arrived") for step in steps}
    worst = max(steps, key=lambda step: minutes[step.id], default=None)
    return worst if worst and _a_visit(source, worst) >= WORTH_TELLING else None


def _a_visit(source: Source, step: Step, cause: str = ANY_CAUSE) -> float:
    """Return the minutes that a visit waits for a cause, on average, also where it gives up."""
    return source.mean(f"step/{step.id}/cause:{cause}/mean")


def on_causes(source: Source) -> Iterator[Told]:
    """Yield why cases wait where most minutes are waited in line: the causes of a tenth of them or more."""
    step = worst_step(source)
    if step is None:
        return
    causes = {name: _a_visit(source, step, name) for name in CAUSE_WORDS}
    large = [name for name in causes if causes[name] >= A_PART * _a_visit(source, step)]
    told = sorted(large, key=lambda name: -causes[name])[:MOST_CAUSES]
    parts = [
        [source.told(f"step/{step.id}/cause:{name}/mean"), plain(f" {because(source, step, name)}")] for name in told
    ]
    why = listed_pieces(parts) if len(parts) > 1 else [plain(because(source, step, told[0]))]
    where = [plain("Most waiting in line is at "), value(step.name, f"step/{step.id}/wait/mean"), plain(": ")]
    mean = [source.told(f"step/{step.id}/cause:{ANY_CAUSE}/mean"), plain(" a visit, ")]
    yield Told(kind=Kind.WHY, weight=Weight.WHY, sentence=[*where, *mean, *why, plain(".")])


def on_held(source: Source) -> Iterator[Told]:
    """Yield where most minutes are waited though nobody is busy: at a signal, or for the rest of a batch."""
    steps = [step for step in source.study.steps if isinstance(step, Signal | Gather)]
    minutes = {step.id: _a_visit(source, step) * source.mean(f"step/{step.id}/arrived") for step in steps}
    step = max(steps, key=lambda step: minutes[step.id], default=None)
    everywhere = source.mean(f"type/all/cause:{ANY_CAUSE}/mean") * source.mean("type/all/completed")
    if step is None or _a_visit(source, step) < WORTH_TELLING or minutes[step.id] < MOST * everywhere:
        return
    cause = max(CAUSE_WORDS, key=lambda name: _a_visit(source, step, name))
    words = CAUSE_WORDS[cause].removeprefix("Wait ")
    where = [plain("Most of all waiting is at "), value(step.name, f"step/{step.id}/wait/mean"), plain(", ")]
    mean = [plain(f"{words}: "), source.told(f"step/{step.id}/cause:{ANY_CAUSE}/mean"), plain(" a visit.")]
    yield Told(kind=Kind.WHY, weight=Weight.WHY, sentence=[*where, *mean])


def because(source: Source, step: Serve, cause: str) -> str:
    """Return a cause of waiting at a step as the rest of a sentence: "while all Clerks are busy"."""
    needed = {team for need in step.needs for team in teams_of(need, source.study)}
    places = [team.name for team in source.study.teams if team.id in needed and team.kind == "places"]
    others = [team.name for team in source.study.teams if team.id in needed and team.kind != "places"]
    if cause == "busy" and len(others) == 1:
        return f"while all {others[0]} are busy"
    if cause == "place" and len(places) == 1:
        return f"while all {places[0]} are taken"
    words = CAUSE_WORDS[cause]
    return words.removeprefix("Wait ") if words.startswith("Wait ") else f"as a {words[0].lower()}{words[1:]}"


def on_peaks(source: Source) -> Iterator[Told]:
    """Yield when it is worst there: the hours of the day, and the worst hour of the week, where one stands out."""
    step = worst_step(source)
    if step is None or source.is_casework or _is_closed(source, step):
        return
    waits, came = (source.by_hour(f"step/{step.id}/{what}") for what in ("wait", "arrived"))
    hour = worst_hour(waits, came)
    if hour is None:
        return
    first, last = hours_around(waits, came, hour % 24)
    day = DAY_NAMES[hour // 24]
    sentence = [
        plain(f"It is worst there from {first}:00 to {last}:00: who comes on a {day} after {hour % 24}:00 waits "),
        source.told(f"step/{step.id}/wait/hour:{hour}"),
        plain("."),
    ]
    yield Told(kind=Kind.WORST, weight=Weight.WHEN, sentence=sentence)


def _is_closed(source: Source, step: Serve) -> bool:
    """Say whether most of the waiting at a step is over hours in which nobody works there."""
    closed = sum(_a_visit(source, step, cause) for cause in ("off-shift", "closed"))
    return closed >= MOST * _a_visit(source, step)


def worst_hour(waits: np.ndarray, came: np.ndarray) -> int | None:
    """Return the hour of the week with the longest wait, where it is far above the mean; of hours with some visits."""
    looked_at = came >= SOME_OF_THE_WEEK * came.sum()
    if not came.sum() or not looked_at.any():
        return None
    mean = float((waits * came).sum() / came.sum())
    hour = int(np.argmax(np.where(looked_at, waits, -1.0)))
    return hour if waits[hour] >= PEAK * mean and waits[hour] >= WORTH_TELLING else None


def hours_around(waits: np.ndarray, came: np.ndarray, peak: int) -> tuple[int, int]:
    """Return from which to which hour of the day waits are near those of the worst, over all days of the week."""
    many = came.reshape(7, 24).sum(axis=0)
    of_day = (waits * came).reshape(7, 24).sum(axis=0) / np.maximum(many, 1e-12)
    near = (of_day >= NEAR_THE_PEAK * of_day[peak]) & (many > 0)
    first, last = peak, peak + 1
    while first > 0 and near[first - 1]:
        first -= 1
    while last < 24 and near[last]:
        last += 1
    return first, last
