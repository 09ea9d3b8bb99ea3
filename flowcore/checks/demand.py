"""Checks on how cases come and how long the study watches them."""

from collections.abc import Iterator

from flowcore.checks.registry import doubt, soundness
from flowcore.problems import Problem, error_at, warning_at
from flowcore.study import Study, minutes
from flowcore.study.distributions import mean_of
from flowcore.study.streams import DateStream, ProfileStream, RandomStream
from flowcore.theory.network import mean_work, visit_rates


@soundness
def gaps_take_time(study: Study) -> Iterator[Problem]:
    """Between two arrivals some time passes."""
    for stream in study.streams:
        if not isinstance(stream, RandomStream):
            continue
        if stream.gap is not None and mean_of(stream.gap) <= 0:
            yield error_at(
                where=f"streams/{stream.id}/gap",
                what="The time between two arrivals is zero, so endlessly many cases come at once.",
                mend="Give a time above zero.",
            )
        if stream.chance is not None and minutes(stream.chance.every) <= 0:
            yield error_at(
                where=f"streams/{stream.id}/chance/every",
                what="The interval is zero, so endlessly many cases come at once.",
                mend="Give a time above zero.",
            )


@soundness
def streams_bring_cases(study: Study) -> Iterator[Problem]:
    """Every stream brings a case at some time."""
    for stream in study.streams:
        empty_week = isinstance(stream, ProfileStream) and not any(any(day) for day in stream.week.values())
        if empty_week or (isinstance(stream, DateStream) and not stream.arrivals):
            where = "week" if empty_week else "arrivals"
            yield warning_at(
                f"streams/{stream.id}/{where}",
                f"{stream.name} brings no case.",
                "Give it arrivals, or delete it.",
            )
        if stream.first and stream.last and stream.first > stream.last:
            yield error_at(
                where=f"streams/{stream.id}/last",
                what="The last arrival may come only before the first one.",
                mend="Put the two times in order.",
            )


@soundness
def run_has_length(study: Study) -> Iterator[Problem]:
    """Some time is left after the warm-up."""
    if minutes(study.run.length) <= 0:
        yield error_at(where="run/length", what="The run has no length.", mend='Give a length, such as "4 wk".')
    elif minutes(study.run.warm_up) >= minutes(study.run.length):
        yield error_at(
            where="run/warm_up",
            what=f"The warm-up ({study.run.warm_up}) leaves nothing of the run ({study.run.length}).",
            mend="Shorten the warm-up or lengthen the run.",
        )


@doubt
def run_is_longer_than_a_way(study: Study) -> Iterator[Problem]:
    """A case can get through the service within the run, by its mean times of work alone."""
    rates = visit_rates(study)
    types = [kind.id for kind in study.case_types] or [""]
    total = max(rates.sum(), 1e-12)
    work = sum(
        rates[row, column] * mean_work(step, kind)
        for row, kind in enumerate(types)
        for column, step in enumerate(study.steps)
    )
    entering = sum(rates[:, [step.id for step in study.steps].index(stream.to)].sum() for stream in study.streams)
    way = work / max(entering, total * 1e-9)
    if way > minutes(study.run.length):
        yield warning_at(
            "run/length",
            f"A case's work alone takes about {way / 60:.1f} h, longer than the run ({study.run.length}).",
            "Lengthen the run.",
        )
