"""A memo for the one who decides: question, what was tried, answer, evidence, assumptions, how sure."""

from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from flowcore.findings.targets import limit_words, promise
from flowcore.findings.words import as_text, listed, measure_words
from flowcore.reports.findings import RunFindings
from flowcore.reports.observed import Fit
from flowcore.results.catalogue import titled
from flowcore.results.statistics import Estimate
from flowcore.study import StudyDocument
from flowcore.study.base import Text
from flowcore.study.differences import change_summary
from flowcore.study.durations import spoken
from flowcore.study.graph import links_of
from flowcore.study.steps import Serve

Figures = Mapping[str, Estimate]
PictureKind = Literal["minutes", "week", "spread", "course", "people", "measures", "trade-off"]
MOST_TOLD = 8
MOST_TRIED = 40
MINUTES_CAPTION = "Where the minutes of a case go, and what it waits for."
WEEK_CAPTION = "The mean wait by the hour of the week in which cases come, in minutes."
SPREAD_CAPTION = "How many of the cases wait how long on the whole way."


class MemoSection(BaseModel):
    """A heading and the paragraphs under it, a line each."""

    heading: Annotated[str, StringConstraints(max_length=200)]
    text: Annotated[str, StringConstraints(max_length=20_000)]


class MemoPicture(BaseModel):
    """A picture of what the memo is about, and of which quantity where it can be of several."""

    kind: PictureKind
    quantity: Text = ""
    caption: Annotated[str, StringConstraints(max_length=1000)] = ""


class MemoText(BaseModel):
    """What stands in a memo: sections in order, and the pictures, which come behind the answer."""

    title: Annotated[str, StringConstraints(min_length=1, max_length=300)]
    sections: Annotated[list[MemoSection], Field(max_length=30)]
    pictures: Annotated[list[MemoPicture], Field(max_length=20)]


class Tried(BaseModel):
    """A scenario that was run, by its name, and the study as it was run."""

    name: str
    study: StudyDocument


def memo_of_run(
    tried: Tried, baseline: StudyDocument, findings: RunFindings, figures: Figures, fits: Sequence[Fit]
) -> MemoText:
    """Return what a run of one scenario says, as a memo."""
    study = tried.study
    changes = change_summary(baseline, study)
    whole = f"“{tried.name}”: {changes}." if changes else f"{study.name}, as it is today."
    what = f"{whole}\nIt was played through {findings.replications} times, each time for {study.run.length}."
    told = "\n".join(str(each) for each in findings.sentences)
    week = next((each for each in findings.weekly if each.quantity == "type/all/wait"), None)
    pictures = [
        MemoPicture(kind="minutes", caption=MINUTES_CAPTION),
        *([MemoPicture(kind="week", quantity=week.quantity, caption=WEEK_CAPTION)] if week else []),
        MemoPicture(kind="spread", quantity="type/all/wait", caption=SPREAD_CAPTION),
    ]
    return MemoText(
        title=study.name if not changes else f"{study.name}: {tried.name}",
        sections=[
            MemoSection(heading="Question", text=_question(baseline)),
            MemoSection(heading="What was tried", text=what),
            MemoSection(heading="Answer", text=told),
            MemoSection(heading="Assumptions", text="\n".join(assumptions(study, figures))),
            MemoSection(heading="How sure", text="\n".join(_how_sure(findings, fits))),
        ],
        pictures=pictures,
    )


def memo_of_comparison(
    tried: Sequence[Tried], sentences: Sequence[str], grounds: str, figures: Figures, fits: Sequence[Fit]
) -> MemoText:
    """Return what a comparison of scenarios with the first of them says, as a memo; figures are those of the first."""
    baseline, *others = tried
    changes = [
        f"“{each.name}”: {change_summary(baseline.study, each.study) or 'changes nothing'}."
        for each in others[:MOST_TRIED]
    ]
    changes += _rest(len(others) - MOST_TRIED, "scenarios")
    return MemoText(
        title=f"{baseline.study.name}: what to change",
        sections=[
            MemoSection(heading="Question", text=_question(baseline.study)),
            MemoSection(heading="What was tried", text="\n".join([f"Against “{baseline.name}”:", *changes])),
            MemoSection(heading="Answer", text="\n".join(sentences)),
            MemoSection(heading="Assumptions", text="\n".join(assumptions(baseline.study, figures))),
            MemoSection(heading="How sure", text="\n".join([grounds, *_fit_words(fits)])),
        ],
        pictures=[
            MemoPicture(kind="measures", caption="Each scenario beside the first, with half its interval."),
            MemoPicture(kind="trade-off", caption="What a scenario buys against what it costs."),
        ],
    )


def _question(study: StudyDocument) -> str:
    """Return what the study asks, as the analyst wrote it, and what it should keep."""
    asked = study.about.strip() or f"How well does {study.name} serve those who come, and what would help?"
    limits = [
        f"{measure_words(title)} {limit_words(target, title.unit, study.currency)}"
        if target.by == "run"
        else as_text(promise(study, target))
        for target in study.targets
        if (title := titled(target.figure, study)) is not None
    ]
    return f"{asked}\nIt should keep {listed(limits)}." if limits else asked


def assumptions(study: StudyDocument, figures: Figures) -> list[str]:
    """Return what is taken for granted: who comes, how long the work takes, who is there."""
    return [*_arrivals(study, figures), *_work(study, figures), *_teams(study, figures)]


def _arrivals(study: StudyDocument, figures: Figures) -> list[str]:
    came = [(stream.name, _mean(figures, f"stream/{stream.id}/arrived")) for stream in study.streams]
    told = [f"{name}: {count:,.0f} cases come in {study.run.length}." for name, count in came if count]
    return told[:MOST_TOLD] + _rest(len(told) - MOST_TOLD, "streams")


def _rest(more: int, what: str) -> list[str]:
    """Return a line that says how many more there are, where there are any."""
    return [f"And {more} more {what}."] if more > 0 else []


def _work(study: StudyDocument, figures: Figures) -> list[str]:
    """Return how long a visit's work takes, at the steps with most of it."""
    teams = {team.id: team.name for team in study.teams}
    told: list[tuple[float, str]] = []
    for step in study.steps:
        minutes, served = _mean(figures, f"step/{step.id}/work/mean"), _mean(figures, f"step/{step.id}/served")
        if isinstance(step, Serve) and minutes and served and links_of(step):
            by = [teams[need.team] for need in step.needs if need.team in teams]
            whom = f", by {listed(by)}" if by else ""
            told.append((minutes * served, f"{step.name}: {spoken(minutes)} of work a visit{whom}."))
    ranked = [words for _, words in sorted(told, reverse=True)]
    return ranked[:MOST_TOLD] + _rest(len(ranked) - MOST_TOLD, "steps with less work")


def _teams(study: StudyDocument, figures: Figures) -> list[str]:
    told: list[str] = []
    for team in study.teams:
        if not team.roster:
            told.append(f"{team.name}: {team.members}, always there.")
            continue
        shifts = f"{len(team.roster)} shifts" if len(team.roster) > 1 else "one shift"
        most = max((row.people for row in team.roster), default=0)
        told.append(f"{team.name}: a roster of {shifts}, of up to {most} people each.")
    return told[:MOST_TOLD] + _rest(len(told) - MOST_TOLD, "teams")


def _how_sure(findings: RunFindings, fits: Sequence[Fit]) -> list[str]:
    doubts = [f"{each.what} {each.mend}" for each in findings.doubts]
    return [each for each in (findings.grounds, findings.settled, *doubts, *_fit_words(fits)) if each]


def _fit_words(fits: Sequence[Fit]) -> list[str]:
    """Return how many of the figures that are known of the real service the run meets."""
    known = [each for each in fits if each.fits is not None]
    if not known:
        return ["It has not been held against figures of the real service."]
    missed = [each for each in known if not each.fits and each.title is not None]
    apart = "; ".join(f"{each.title.name} {each.words}" for each in missed[:MOST_TOLD] if each.title)
    fitting = len(known) - len(missed)
    words = f"Held against what is known of the real service, {fitting} of {len(known)} figures fit"
    return [f"{words}: {apart}." if apart else f"{words}."]


def _mean(figures: Figures, address: str) -> float | None:
    found = figures.get(address)
    return None if found is None else found.mean
