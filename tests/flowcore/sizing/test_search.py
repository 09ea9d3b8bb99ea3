"""The whole search on a small study: what it finds holds, and is found again whoever runs it."""

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor

import pytest

from flowcore.findings.words import as_text
from flowcore.problems import StudyError
from flowcore.simulate import simulate
from flowcore.sizing.aiming.trials import Outcome, Trial, run_trial
from flowcore.sizing.answer import Answer, answer_of
from flowcore.sizing.proposals import chosen_of, frontier_of
from flowcore.sizing.rosters import RosterSearch
from flowcore.sizing.size import Conversation, in_threads, size
from flowcore.study import StudyDocument
from flowcore.theory.queues import wait_beyond_mmc
from tests.flowcore.sizing.studies import WITHIN_A_MINUTE, always_open, busy_noon

FRESH = 990_017
Runner = Callable[[Sequence[Trial]], list[Outcome]]


def found_by(search: RosterSearch, run: Runner) -> RosterSearch:
    asking = search.run()
    trials = next(asking)
    while True:
        try:
            trials = asking.send(run(trials))
        except StopIteration:
            return search


@pytest.fixture(scope="module")
def study() -> StudyDocument:
    return busy_noon()


@pytest.fixture(scope="module")
def searched(study: StudyDocument) -> RosterSearch:
    search = RosterSearch(study, study.sizing[0])
    with ThreadPoolExecutor(2) as pool:
        found_by(search, in_threads(search, pool))
    return search


def test_what_is_chosen_holds_in_fresh_runs_and_keeps_its_limits(searched: RosterSearch, study: StudyDocument) -> None:
    chosen = chosen_of(searched)
    assert chosen is not None
    changed = chosen.staffing.of(study)
    run = changed.run.model_copy(update={"seed": FRESH, "replications": 200})
    figure = simulate(changed.model_copy(update={"run": run}), threads=2).figure(study.targets[0].figure)
    assert figure.low is not None
    assert figure.low >= 0.8
    [plan] = [each.plan for each in searched.tried() if each.staffing == chosen.staffing]
    assert plan is not None
    people = plan.people["clerks"]
    assert 1 <= len(people) <= 12
    for person in people:
        assert person.tour.days == (0, 1, 2, 3, 4)
        for shift in person.shifts:
            assert shift.length in (240, 360, 480)
            assert 8 * 60 <= shift.begin <= 12 * 60
            assert all(180 <= after <= 270 for after, _ in shift.breaks)


def test_it_costs_less_than_whoever_is_there_all_day(searched: RosterSearch, study: StudyDocument) -> None:
    chosen = chosen_of(searched)
    assert chosen is not None
    all_day = next(
        people
        for people in range(1, 12)
        if (simulate(with_people(study, people)).figure(study.targets[0].figure).low or 0) >= 0.8
    )
    assert chosen.outcome.costs.mean() < 0.95 * all_day * 40 * 20


def with_people(study: StudyDocument, people: int) -> StudyDocument:
    row = study.teams[0].roster[0].model_copy(update={"people": people})
    return study.model_copy(update={"teams": [study.teams[0].model_copy(update={"roster": [row]})]})


def test_the_answer_is_the_same_with_one_worker_and_after_a_stop(searched: RosterSearch, study: StudyDocument) -> None:
    """A search that is begun again asks the same trials in the same order, so what was known goes on to be."""
    known: dict[tuple[str, Trial], Outcome] = {}
    room = [40]

    class Killed(Exception):
        pass

    def remember(trials: Sequence[Trial]) -> list[Outcome]:
        for trial in trials:
            if (trial.staffing.key, trial) not in known:
                room[0] -= 1
                if room[0] < 0:
                    raise Killed
                known[trial.staffing.key, trial] = run_trial(study, searched.aims, trial)
        return [known[trial.staffing.key, trial] for trial in trials]

    with pytest.raises(Killed):
        found_by(RosterSearch(study, study.sizing[0]), remember)
    room[0] = 10**6
    again = found_by(RosterSearch(study, study.sizing[0]), remember)
    assert answer_of(searched, 1, 1) == answer_of(again, 1, 1)


def said(found: Answer) -> str:
    return " ".join(as_text(sentence) for sentence in found.says)


def test_no_point_of_the_frontier_beats_another(searched: RosterSearch) -> None:
    points = [(each.cost, each.figure) for each in frontier_of(searched) if not each.is_today]
    assert len(points) > 3
    assert points == sorted(points)
    assert [figure for _, figure in points] == sorted(figure for _, figure in points)


def test_a_line_that_is_open_all_day_gets_as_many_as_erlang_says() -> None:
    study = always_open(6.4, [WITHIN_A_MINUTE])
    search = RosterSearch(study, study.sizing[0])
    with ThreadPoolExecutor(2) as pool:
        found_by(search, in_threads(search, pool))
    chosen = chosen_of(search)
    assert chosen is not None
    erlang = next(servers for servers in range(7, 30) if wait_beyond_mmc(servers, 1.6, 4.0, 1.0) <= 0.2)
    assert sum(row.people for row in chosen.staffing.rosters["clerks"]) <= 3 * erlang


def test_what_the_limits_do_not_allow_is_said_with_the_interval_that_is_in_the_way(study: StudyDocument) -> None:
    few = study.model_dump(mode="json")
    few["sizing"][0]["teams"][0]["people"] = {"low": 1, "high": 2}
    found = size(StudyDocument.model_validate(few), threads=2)
    assert found.proposals[1:] == []
    assert said(found).startswith("Nothing within the limits covers the need: mon ")
    assert "of Clerks. " in said(found)
    assert "In the way is how many people there may be" in said(found)


def test_a_target_that_cannot_be_told_by_interval_is_an_error_at_its_place(study: StudyDocument) -> None:
    asked = study.model_dump(mode="json")
    asked["targets"] = [{"figure": "cost/total/per:day", "at_most": 500, "by": "interval"}]
    with pytest.raises(StudyError) as error:
        size(StudyDocument.model_validate(asked))
    [problem] = error.value.problems
    assert problem.where == "targets/0"
    assert "interval" in problem.what


def test_a_search_without_a_target_is_an_error(study: StudyDocument) -> None:
    with pytest.raises(StudyError, match="Nothing must hold"):
        size(study.model_copy(update={"targets": []}))


def test_a_search_that_is_stopped_keeps_the_best_so_far(study: StudyDocument) -> None:
    search = RosterSearch(study, study.sizing[0])
    with ThreadPoolExecutor(2) as pool:
        stopped = in_threads(search, pool, should_stop=lambda: search.best() is not None)
        found = Conversation(search, stopped, lambda _: None).answer()
    assert [each.name for each in found.proposals] == ["As it is today", "Cheapest so far"]
    assert said(found).startswith("Stopped before it was checked")
    assert found.proposals[1].figures[study.targets[0].figure].n == 30


def test_where_nothing_holds_the_nearest_is_shown_with_what_it_misses(study: StudyDocument) -> None:
    asked = study.model_dump(mode="json")
    asked["targets"] = [{"figure": "type/all/total/p90", "at_most": "1 min"}]
    found = size(StudyDocument.model_validate(asked), threads=2)
    assert [each.name for each in found.proposals] == ["As it is today", "Nearest to holding"]
    assert "misses “Door to door” most" in said(found)
