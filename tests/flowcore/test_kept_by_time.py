"""Targets of every day and every interval, as a run and a comparison judge them: by hand."""

from typing import Any

import pytest

from flowcore.findings.comparison import by_time_rows
from flowcore.findings.source import Source
from flowcore.findings.targets import on_targets
from flowcore.findings.words import as_text
from flowcore.reports.comparison import Column
from flowcore.reports.keeping import Keeps, kept_by_time
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import Part, exit_step, exponential, serve

WITHIN = "step/desk/wait/within:5min"
EVERY_HOUR: Part = {"figure": WITHIN, "at_least": 0.5, "by": "interval"}


def a_morning(clerks: int, *targets: Part, work: Any = "10 min", replications: int = 2) -> StudyDocument:
    """On a Monday two come at 8:00, one at 9:00, three at 10:00: with one clerk they wait 0 10, 0, 0 10 20 minutes."""
    moments = [f"2027-03-01T{hour}" for hour in ("08:00", "08:00", "09:00", "10:00", "10:00", "10:00")]
    dates = {"id": "in", "name": "In", "kind": "dates", "arrivals": [{"at": each} for each in moments], "to": "desk"}
    return read_study(
        {
            "name": "A morning",
            "start": "2027-03-01T07:00",
            "streams": [dates],
            "steps": [serve("desk", work, "clerks", {"out": 1}), exit_step()],
            "teams": [{"id": "clerks", "name": "Clerks", "size": clerks}],
            "targets": list(targets),
            "run": {"length": "8 h", "interval": "1 h", "replications": replications, "seed": 4},
        }
    )


@pytest.mark.parametrize(
    ("target", "keeps", "missed", "judged", "worst", "figure"),
    [
        (EVERY_HOUR, Keeps.MISSED, 1, 3, "Mon 10:00", 1 / 3),
        (EVERY_HOUR | {"at_least": 0.3}, Keeps.KEPT, 0, 3, "Mon 10:00", 1 / 3),
        (EVERY_HOUR | {"figure": "step/desk/wait/p90", "at_most": "10 min"}, Keeps.MISSED, 1, 3, "Mon 10:00", 2 / 3),
        ({"figure": "step/desk/wait/mean", "at_most": 7, "by": "day"}, Keeps.KEPT, 0, 1, "Mon", 40 / 6),
        ({"figure": "step/desk/wait/mean", "at_most": 6, "by": "day"}, Keeps.MISSED, 1, 1, "Mon", 40 / 6),
        ({"figure": "team/clerks/utilisation", "at_most": 0.4, "by": "interval"}, Keeps.MISSED, 1, 8, "Mon 10:00", 0.5),
    ],
)
def test_what_every_hour_or_day_keeps_by_hand(
    target: Part, keeps: Keeps, missed: int, judged: int, worst: str, figure: float
) -> None:
    asked = {key: each for key, each in target.items() if key != "at_least" or "p90" not in target["figure"]}
    study = a_morning(1, asked)
    found = kept_by_time(simulate(study), study, study.targets[0])
    assert found is not None
    assert (found.keeps, found.missed, found.judged, found.worst) == (keeps, missed, judged, worst)
    assert found.figure == pytest.approx(figure)


def test_what_luck_leaves_open_is_in_doubt() -> None:
    """Three come at once: one does not wait, one as long as one work lasts, one as two: (1 + 0.632 + 0.264) / 3."""
    exactly = {"figure": WITHIN, "at_least": 0.632, "by": "interval"}
    study = a_morning(1, exactly, work=exponential(5), replications=40)
    found = kept_by_time(simulate(study), study, study.targets[0])
    assert found is not None
    assert found.keeps is Keeps.IN_DOUBT


def test_a_target_that_the_run_did_not_have_or_cannot_be_told_so_is_not_judged() -> None:
    results = simulate(a_morning(1))
    later, cost = EVERY_HOUR, {"figure": "cost/total/per:day", "at_most": 9, "by": "day"}
    study = a_morning(1, later, cost)
    assert [kept_by_time(results, study, target) for target in study.targets] == [None, None]
    [told] = on_targets(Source(study, results))
    assert as_text(told.sentence).startswith("Targets that this run does not tell: at least 50 % of the waits at Desk")
    assert kept_by_time(simulate(study), study, study.targets[1]) is None


def test_findings_say_where_it_is_missed_and_a_comparison_who_keeps_it() -> None:
    one, two = a_morning(1, EVERY_HOUR), a_morning(2, EVERY_HOUR)
    [told] = on_targets(Source(one, simulate(one)))
    assert told.is_wrong
    assert as_text(told.sentence) == (
        "Target missed: at least 50 % of the waits at Desk within 5 min in every 1 h "
        "(not in 1 of 3, worst Mon 10:00 with 33 % in time)."
    )
    [row] = by_time_rows([Column("Today", one, simulate(one)), Column("Two", two, simulate(two))])
    assert [cell.keeps for cell in row.cells] == [Keeps.MISSED, Keeps.KEPT]
    assert row.cells[1].words == "in all 3, worst Mon 10:00 with 67 % in time"
