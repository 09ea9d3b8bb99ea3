"""The pilot of a run, and how long a replication takes."""

from itertools import count

from flowcore.reports.pilot import TOO_LONG, pilot
from flowcore.reports.speed import seconds_a_replication
from flowcore.study import StudyDocument
from tests.flowcore.builders import exit_step, exponential, serve, study


def desk(length: str, work: str = "4 min", **more: object) -> StudyDocument:
    steps = [serve("desk", exponential(float(work.split(maxsplit=1)[0])), "clerks", {"out": 1}), exit_step()]
    return study(steps, {"clerks": 1}, exponential(5), length=length, **more)


def test_a_service_that_fills_up_slowly_is_seen_to() -> None:
    """At a load of 0.97 the line takes days to reach its length; the pilot starts at nothing, whatever is set."""
    found = pilot(desk("60 d", "4.85 min", warm_up="20 d"))
    assert found.replications >= 1
    assert found.inside[0] < found.inside[-1]
    assert len(found.inside) <= 400
    assert found.every * len(found.inside) <= 60 * 1440
    assert found.proposed is None or found.proposed > 0


def test_a_service_that_is_alike_throughout_needs_none() -> None:
    found = pilot(desk("20 d", "1 min"))
    assert found.proposed is not None
    assert found.proposed <= 10 * 1440
    assert found.words.startswith(("It is alike", "The first"))


def test_a_pilot_that_cannot_end_in_time_says_so() -> None:
    ticks = count(0, 10)
    found = pilot(desk("20 d"), clock=lambda: float(next(ticks)))
    assert (found.inside, found.proposed, found.words) == ([], None, TOO_LONG)


def test_the_pace_of_a_study_is_found_whatever_its_length() -> None:
    day, year = (seconds_a_replication(desk(length, warm_up="0 min")) for length in ("1 d", "300 d"))
    assert 0 < day < year
