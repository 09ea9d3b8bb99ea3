"""The log of a replication of each demo study, written and read again, gives the study's own parameters back."""

import json
from pathlib import Path

import numpy as np
import pytest

from flowcore.calibration.durations import fitted
from flowcore.calibration.found import found_in
from flowcore.calibration.shares import shares_after
from flowcore.logs.doubts import Treatment, treated
from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised
from flowcore.logs.visits import Outcome, Visits
from flowcore.reports.event_log import event_log, write_csv, write_xes
from flowcore.study import StudyDocument, read_study
from flowcore.study.distributions import mean_of, row_of
from flowcore.study.steps import Serve, WorkByType

DEMOS = sorted((Path(__file__).resolve().parents[3] / "demo").glob("*.json"))
SURE = 0.9999
"""So sure that none of some hundred intervals misses the truth by chance."""
ENOUGH = 30


def read(study: StudyDocument, path: Path) -> Visits:
    entries = event_log(study, 0)
    if path.suffix == ".csv":
        write_csv(study, [(0, entries)], path)
    else:
        write_xes(study, [(0, entries)], path)
    visits, report = read_log(path, recognised(path).reading)
    assert report.unread == 0, report.reasons
    return treated(visits, Treatment())


def at_usual_pace(study: StudyDocument) -> list[Serve]:
    """Return the steps at which nobody works faster or slower than usual, and nothing else calls work off."""
    plain = [team for team in study.teams if team.pace == 1]
    able = {team.id for team in plain} | {skill for team in plain for skill in team.skills}
    other = {skill for team in study.teams if team.pace != 1 for skill in (team.id, *team.skills)}
    return [
        step
        for step in study.steps
        if isinstance(step, Serve) and all({need.team or need.skill} <= able - other for need in step.needs)
    ]


def require_means(study: StudyDocument, visits: Visits) -> None:
    type_ = visits.type[visits.case]
    compared = 0
    for step in at_usual_pace(study):
        here = (visits.step == visits.steps.index(step.name)) & (visits.outcome == Outcome.SERVED)
        for kind in study.case_types:
            times = visits.work[here & (type_ == visits.types.index(kind.name))]
            times = times[~np.isnan(times)]
            if len(times) >= ENOUGH:
                work = step.work
                true = mean_of(work.by_type.get(kind.id, work.otherwise) if isinstance(work, WorkByType) else work)
                low, high = fitted(times, confidence=SURE).mean_interval
                assert low - 1e-3 <= true <= high + 1e-3, (step.name, kind.name)
                compared += 1
    assert compared >= 5


def require_shapes(study: StudyDocument, visits: Visits) -> None:
    found = {each.step: each for each in found_in(visits).steps}
    compared = 0
    for step in at_usual_pace(study):
        work = found[step.name].work
        if isinstance(step.work, str | WorkByType) or work is None:
            continue
        family = row_of(step.work).family
        fits = {each.dist: each for each in work.fits}
        assert fits[family].criterion - work.fits[0].criterion < 10, (step.name, family, work.fits[0].dist)
        compared += 1
    assert compared >= 1


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.stem)
def test_a_demo_is_given_back(demo: Path, tmp_path: Path) -> None:
    """Means lie in their intervals, and the true shape is not ruled out by the nearest one."""
    study = read_study(json.loads(demo.read_text()))
    visits = read(study, tmp_path / "log.csv")
    require_means(study, visits)
    require_shapes(study, visits)


def test_the_clinic_is_given_back_by_xes(tmp_path: Path) -> None:
    study = read_study(json.loads(DEMOS[0].read_text()))
    require_means(study, read(study, tmp_path / "log.xes"))


def test_shares_of_the_permits_given_back(tmp_path: Path) -> None:
    [demo] = [each for each in DEMOS if each.stem == "tree-permits"]
    study = read_study(json.loads(demo.read_text()))
    visits = read(study, tmp_path / "log.csv")
    names = {step.id: step.name for step in study.steps}
    compared = 0
    for step in study.steps:
        ways = [way for way in getattr(step, "next", None) or () if way.share is not None and way.share < 1]
        found = {each.to: each for each in shares_after(visits, step.name, None, SURE)} if ways else {}
        for way in ways:
            share = found[names[way.to]]
            assert share.low <= (way.share or 0) <= share.high, (step.name, way.to)
            compared += 1
    assert compared >= 2
