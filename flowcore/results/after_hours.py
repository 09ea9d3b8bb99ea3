"""What it costs cases that a step's people go home before the last of them has come."""

from collections.abc import Callable, Iterator

from flowcore.problems import Problem, warning_at
from flowcore.study import StudyDocument
from flowcore.study.calendars import DAYS
from flowcore.study.durations import DAY, HOUR, spoken
from flowcore.study.needs import teams_of
from flowcore.theory.after_hours import outlived
from flowcore.thresholds import A_VISIT, WAITS_FOR_A_SHIFT


def work_outlives_people(study: StudyDocument, mean: Callable[[str], float | None]) -> Iterator[Problem]:
    """Warn where cases come after the last shift of those who would serve them, and are seen to wait for the next.

    `mean` gives a figure by its address; the study must be without errors. Where cases lie overnight anyway, nothing is
    told.
    """
    stay = mean("type/all/total/p50")
    if stay is None or stay >= A_VISIT:
        return
    for each in outlived(study):
        waits = mean(f"step/{each.step.id}/cause:off-shift/mean") or 0.0
        if waits < WAITS_FOR_A_SHIFT:
            continue
        able = {team for need in each.step.needs for team in teams_of(need, study)}
        teams = [team for team in study.teams if team.id in able and team.roster]
        names = " and ".join(team.name for team in teams)
        yield warning_at(
            f"teams/{teams[0].id}/closing",
            f"{each.step.name} has nobody any more from {_moment(each.gone)} on, and cases come from "
            f"{each.feeder.name} until {_moment(each.until)}: a case waits {spoken(waits)} there on average "
            "for a shift to begin.",
            f"Let {names} stay for those who are still to come, give them a later shift, or shut the doors earlier.",
        )


def _moment(minute: float) -> str:
    day, rest = divmod(minute, DAY)
    return f"{DAYS[int(day) % 7].title()} {int(rest // HOUR):02d}:{int(rest % HOUR):02d}"
