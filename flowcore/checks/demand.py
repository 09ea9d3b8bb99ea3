"""Checks on how cases come and how long the study watches them."""

from collections.abc import Iterator

from flowcore.checks.registry import soundness
from flowcore.problems import Problem, error_at
from flowcore.study import Study, minutes
from flowcore.study.distributions import mean_minutes


@soundness
def gaps_take_time(study: Study) -> Iterator[Problem]:
    """Between two arrivals some time passes."""
    for stream in study.streams:
        if mean_minutes(stream.gap) <= 0:
            yield error_at(
                where=f"streams/{stream.id}/gap",
                what="The time between two arrivals is zero, so endlessly many cases come at once.",
                mend="Give a time above zero.",
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
