"""Which limits stand in the way of covering a need: those without one of which it could be covered."""

from collections.abc import Callable, Mapping, Sequence

from flowcore.problems import StudyError
from flowcore.results.week_grid import Floats, Grid
from flowcore.sizing.staffing.cover import Covering
from flowcore.study import StudyDocument
from flowcore.study.sizing import FromTo, TeamLimits

MANY = 10_000
Loosened = Callable[[TeamLimits], TeamLimits]


def _with_many(limits: TeamLimits) -> TeamLimits:
    return limits.model_copy(update={"people": FromTo(low=limits.people.low, high=MANY)})


def _with_any_week(limits: TeamLimits) -> TeamLimits:
    return limits.model_copy(update={"days": 7, "in_a_row": 7, "off_together": False, "hours": None, "overtime": None})


def _without_rest(limits: TeamLimits) -> TeamLimits:
    return limits.model_copy(update={"rest": "0 min"})


def _without_breaks(limits: TeamLimits) -> TeamLimits:
    shifts = [each.model_copy(update={"breaks": []}) for each in limits.shifts]
    return limits.model_copy(update={"shifts": shifts})


LOOSER: tuple[tuple[str, Loosened], ...] = (
    ("how many people there may be", _with_many),
    ("how many days and hours one works a week", _with_any_week),
    ("the rest between two shifts", _without_rest),
    ("the breaks", _without_breaks),
)
SHIFTS = "when shifts start and how long they are"


def in_the_way(
    study: StudyDocument,
    limits: Sequence[TeamLimits],
    days: Sequence[int],
    grid: Grid,
    need: Mapping[tuple[str, ...], Floats],
) -> str:
    """Return in words the limits without any one of which a need could be covered that cannot be covered with them."""
    helpful = [
        words for words, loosened in LOOSER if _covers(study, [loosened(each) for each in limits], days, grid, need)
    ]
    return " or ".join(helpful) or SHIFTS


def _covers(
    study: StudyDocument,
    limits: Sequence[TeamLimits],
    days: Sequence[int],
    grid: Grid,
    need: Mapping[tuple[str, ...], Floats],
) -> bool:
    try:
        return not Covering(study, limits, days, grid).solve(need).short
    except StudyError:
        return False
