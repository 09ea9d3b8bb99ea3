"""What a run found, in a sentence or two: how long cases wait, where longest, and how busy those are who work there."""

from pydantic import BaseModel, ConfigDict

from flowcore.results.run import Results
from flowcore.study import StudyDocument
from flowcore.study.durations import HOUR
from flowcore.study.needs import teams_of
from flowcore.study.steps import Serve


class Words(BaseModel):
    """A piece of a sentence; what `is_value` is a figure or a name that the sentence is about."""

    model_config = ConfigDict(frozen=True)

    words: str
    is_value: bool = False


def headline(study: StudyDocument, results: Results) -> list[Words]:
    """Return what a run found, piece by piece; nothing of a run that has no replication yet."""
    if not results.replications:
        return []
    half, nine_tenths = (_mean(results, f"type/all/wait/{name}") for name in ("p50", "p90"))
    if half is None or nine_tenths is None:
        return [Words(words="No case came to its end.")]
    return [*_waits(half, nine_tenths), *_longest(study, results)]


def as_text(sentence: list[Words]) -> str:
    """Return the pieces as one text."""
    return "".join(piece.words for piece in sentence)


def spoken(minutes: float) -> str:
    """Write minutes in full words: "20 seconds", "5.6 minutes", and hours from two on."""
    if minutes < 1.5:
        seconds = round(minutes * 60)
        return f"{seconds} second{'' if seconds == 1 else 's'}"
    if minutes < 2 * HOUR:
        return f"{minutes:.1f} minutes" if minutes < 10 else f"{minutes:.0f} minutes"
    return f"{minutes / HOUR:.1f} hours"


def _waits(half: float, nine_tenths: float) -> list[Words]:
    if nine_tenths <= 0:
        return [Words(words="Nine in ten cases do not wait at all.")]
    one_in_ten = [Words(words=", one in ten over "), _value(spoken(nine_tenths)), Words(words=".")]
    if half <= 0:
        return [Words(words="Half of the cases do not wait at all"), *one_in_ten]
    return [Words(words="Half of the cases wait under "), _value(spoken(half)), *one_in_ten]


def _longest(study: StudyDocument, results: Results) -> list[Words]:
    """Say at which step cases wait longest, and how busy the busiest team is that works there."""
    steps = [step for step in study.steps if isinstance(step, Serve)]
    waits = {step.id: _mean(results, f"step/{step.id}/wait/mean") or 0.0 for step in steps}
    step = max(steps, key=lambda each: waits[each.id], default=None)
    if step is None or waits[step.id] <= 0:
        return []
    return [Words(words=" They wait longest at "), _value(step.name), *_busiest(step, study, results), Words(words=".")]


def _busiest(step: Serve, study: StudyDocument, results: Results) -> list[Words]:
    needed = {team for need in step.needs for team in teams_of(need, study)}
    teams = [team for team in study.teams if team.id in needed]
    loads = {team.id: _mean(results, f"team/{team.id}/utilisation") or 0.0 for team in teams}
    team = max(teams, key=lambda each: loads[each.id], default=None)
    if team is None:
        return []
    verb = "are" if team.name.endswith("s") else "is"
    load = _value(f"{100 * loads[team.id]:.0f} %")
    return [Words(words=f", where {team.name} {verb} at work "), load, Words(words=" of the time")]


def _value(words: str) -> Words:
    return Words(words=words, is_value=True)


def _mean(results: Results, address: str) -> float | None:
    return results.figure(address).mean if results.has(address) else None
