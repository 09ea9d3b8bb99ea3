"""A line, cases or members over the run, by hand."""

import pytest

from flowcore.problems import StudyError
from flowcore.reports.course import course_of
from flowcore.reports.level import level_told, levels_to_tell
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from flowcore.study.runs import Until
from tests.flowcore.builders import exit_step, serve


@pytest.fixture
def three_in_an_hour() -> StudyDocument:
    """Three come at 8:00, 8:02 and 8:04 for ten minutes with the one clerk: the line is 1, 2, 1, 0 for 2, 6, 10, 42."""
    arrivals = [{"at": f"2027-03-01T08:0{minute}"} for minute in (0, 2, 4)]
    return read_study(
        {
            "name": "Three",
            "start": "2027-03-01T08:00",
            "streams": [{"id": "in", "name": "In", "kind": "dates", "arrivals": arrivals, "to": "desk"}],
            "steps": [serve("desk", "10 min", "clerks", {"out": 1}), exit_step()],
            "teams": [{"id": "clerks", "name": "Clerks", "size": 1}],
            "run": {"length": "1 h", "replications": 1, "interval": "15 min"},
        }
    )


def test_a_line_over_time(three_in_an_hour: StudyDocument) -> None:
    told = level_told(three_in_an_hour, "step/desk/line", [0])
    assert told.least == [0, 1, 2]
    assert told.shares == pytest.approx([42 / 60, 12 / 60, 6 / 60])
    assert told.words == "Nobody for 70 % of the time, at most 1 for nine tenths of it, 2 at worst."
    assert told.course.mean == pytest.approx([(2 + 12 + 5) / 15, 5 / 15, 0, 0])
    assert told.course.proposed is None


def test_members_over_time(three_in_an_hour: StudyDocument) -> None:
    told = level_told(three_in_an_hour, "team/clerks/working", [0])
    assert told.course.mean == pytest.approx([1, 1, 0, 0])
    assert (told.shares, told.words) == ([], "")


def test_what_is_no_level_is_told(three_in_an_hour: StudyDocument) -> None:
    assert [quantity for quantity, _ in levels_to_tell(three_in_an_hour)] == [
        "step/desk/line",
        "team/clerks/present",
        "team/clerks/working",
    ]
    with pytest.raises(StudyError, match="nothing of that over time"):
        level_told(three_in_an_hour, "step/desk/wait", [0])


def test_a_run_that_is_over_early_has_a_course(three_in_an_hour: StudyDocument) -> None:
    """The last of the three leaves after half an hour of four."""
    run = three_in_an_hour.run.model_copy(update={"length": "4 h", "until": Until(empty=True)})
    study = three_in_an_hour.model_copy(update={"run": run})
    assert course_of(study, simulate(study)).mean == pytest.approx([(2 + 4 + 18 + 10) / 15, 20 / 15])
    assert level_told(study, "step/desk/line", [0]).course.mean == pytest.approx([19 / 15, 5 / 15])
