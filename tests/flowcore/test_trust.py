"""How far figures can be trusted, in words."""

import pytest

from flowcore.findings.trust import warm_up_words, what_it_rests_on, what_to_leave_out
from flowcore.results.run import Results
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import document, exit_step, exponential, serve


def desk(**run: object) -> StudyDocument:
    of = document([serve("desk", exponential(4), "clerks", {"out": 1}), exit_step()], {"clerks": 1}, exponential(5))
    return read_study(of | {"run": {"length": "2 d", "replications": 10, "seed": 3, **run}})


def test_what_the_figures_rest_on() -> None:
    words = what_it_rests_on(desk(), simulate(desk()))
    assert words.startswith("10 replications of 2 d, 5")
    assert " cases in each. The mean wait is good to ± " in words
    assert words.endswith(" %, with intervals at 95 %.")


def test_one_replication_says_nothing_of_its_precision_and_none_says_nothing() -> None:
    words = what_it_rests_on(desk(), simulate(desk(replications=1)))
    assert words.startswith("1 replication of 2 d, ")
    assert "good to" not in words
    assert what_it_rests_on(desk(), Results([], 0.95)) == ""


def test_a_beginning_unlike_the_rest_is_to_be_left_out_until_it_is() -> None:
    """A desk at which a crowd stands at the beginning of four days."""
    crowd = desk(length="4 d", replications=4).model_dump(mode="json", by_alias=True, exclude_none=True)
    at_once = [{"at": f"{crowd['start'][:10]}T00:{minute:02d}"} for minute in range(60) for _ in range(4)]
    crowd["streams"].append({"id": "crowd", "name": "Crowd", "kind": "dates", "to": "desk", "arrivals": at_once})
    crowd["streams"][-1]["mix"] = crowd["streams"][0]["mix"]
    study = read_study(crowd)
    words = what_to_leave_out(study, simulate(study))
    assert words.startswith("The first ")
    enough = study.model_copy(update={"run": study.run.model_copy(update={"warm_up": "3 d"})})
    assert what_to_leave_out(enough, simulate(study)) == ""


@pytest.mark.parametrize(
    ("proposed", "said"), [(None, "Too short"), (0.0, "no warm-up"), (95.0, "The first 95 minutes")]
)
def test_a_proposal_in_words(proposed: float | None, said: str) -> None:
    assert said in warm_up_words(proposed)
