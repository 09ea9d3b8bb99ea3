"""What a run found, in a sentence or two: how long cases wait, where longest, and how busy those are who work there."""

from flowcore.findings.words import Sentence, plain, value
from flowcore.results.run import Results
from flowcore.study import StudyDocument
from flowcore.study.durations import spoken
from flowcore.study.needs import teams_of
from flowcore.study.steps import Serve

HALF, NINE_TENTHS = "type/all/wait/p50", "type/all/wait/p90"


def headline(study: StudyDocument, results: Results) -> Sentence:
    """Return what a run found, piece by piece; nothing of a run that has no replication yet."""
    if not results.replications:
        return []
    half, nine_tenths = (_mean(results, address) for address in (HALF, NINE_TENTHS))
    if half is None or nine_tenths is None:
        return [plain("No case came to its end.")]
    return [*_waits(half, nine_tenths), *_longest(study, results)]


def _waits(half: float, nine_tenths: float) -> Sentence:
    if nine_tenths <= 0:
        return [plain("Nine in ten cases do not wait at all.")]
    one_in_ten = [plain(", one in ten over "), value(spoken(nine_tenths), NINE_TENTHS), plain(".")]
    if half <= 0:
        return [plain("Half of the cases do not wait at all"), *one_in_ten]
    return [plain("Half of the cases wait under "), value(spoken(half), HALF), *one_in_ten]


def _longest(study: StudyDocument, results: Results) -> Sentence:
    """Say at which step cases wait longest, and how busy the busiest team is that works there."""
    steps = [step for step in study.steps if isinstance(step, Serve)]
    waits = {step.id: _mean(results, f"step/{step.id}/wait/mean") or 0.0 for step in steps}
    step = max(steps, key=lambda each: waits[each.id], default=None)
    if step is None or waits[step.id] <= 0:
        return []
    longest = value(step.name, f"step/{step.id}/wait/mean")
    return [plain(" They wait longest at "), longest, *_busiest(step, study, results), plain(".")]


def _busiest(step: Serve, study: StudyDocument, results: Results) -> Sentence:
    needed = {team for need in step.needs for team in teams_of(need, study)}
    teams = [team for team in study.teams if team.id in needed]
    loads = {team.id: _mean(results, f"team/{team.id}/utilisation") or 0.0 for team in teams}
    team = max(teams, key=lambda each: loads[each.id], default=None)
    if team is None:
        return []
    verb = "are" if team.name.endswith("s") else "is"
    load = value(f"{100 * loads[team.id]:.0f} %", f"team/{team.id}/utilisation")
    return [plain(f", where {team.name} {verb} at work "), load, plain(" of the time")]


def _mean(results: Results, address: str) -> float | None:
    return results.figure(address).mean if results.has(address) else None
