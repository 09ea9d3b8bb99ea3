"""What a run found, in a sentence."""

import pytest

from flowcore.findings.headline import headline
from flowcore.findings.words import as_text
from flowcore.results.run import Results
from flowcore.simulate import simulate
from flowcore.study import StudyDocument
from flowcore.study.durations import spoken
from tests.flowcore.builders import document, exit_step, serve, study


def said(of: StudyDocument) -> str:
    return as_text(headline(of, simulate(of)))


def one_desk(work: str, gap: str, length: str, team: str = "clerks", **more: object) -> StudyDocument:
    desk = serve("desk", work, team, {"out": 1}, **more)
    return study([desk, exit_step()], {team: 1}, gap, length=length, warm_up="0 min", replications=1)


def test_a_line_that_grows_by_a_minute_a_case_by_hand() -> None:
    """Cases every minute from 1 on, each served 2 minutes: the n-th waits n - 1, and 50 are done by 101."""
    of = one_desk("2 min", "1 min", "101 min")
    assert said(of) == (
        "Half of the cases wait under 24 minutes, one in ten over 44 minutes. "
        "They wait longest at Desk, where Clerks are at work 99 % of the time."
    )
    marked = [piece.words for piece in headline(of, simulate(of)) if piece.is_value]
    assert marked == ["24 minutes", "44 minutes", "Desk", "99 %"]


def test_nobody_waits() -> None:
    assert said(one_desk("1 min", "2 min", "100 min")) == "Nine in ten cases do not wait at all."


def test_a_team_called_in_the_singular() -> None:
    assert "where Booth is at work" in said(one_desk("2 min", "1 min", "101 min", team="booth"))


def test_a_step_that_asks_for_a_skill_names_who_has_it() -> None:
    written = document([serve("desk", "2 min", None, {"out": 1}, needs=[{"skill": "tax"}]), exit_step()], {}, "1 min")
    written["teams"] = [
        {"id": "clerks", "name": "Clerks", "size": 1},
        {"id": "advisers", "name": "Advisers", "size": 1, "skills": ["tax"]},
    ]
    written["run"] |= {"length": "101 min", "warm_up": "0 min", "replications": 1}
    assert "where Advisers are at work" in said(StudyDocument.model_validate(written))


def test_nothing_came_to_its_end() -> None:
    assert said(one_desk("2 d", "1 min", "10 min")) == "No case came to its end."
    assert headline(one_desk("1 min", "2 min", "10 min"), Results.of([], 0.95)) == []


@pytest.mark.parametrize(
    ("minutes", "words"),
    [
        (0, "0 seconds"),
        (1 / 60, "1 second"),
        (1.49, "89 seconds"),
        (1.5, "1.5 minutes"),
        (9.96, "10.0 minutes"),
        (10.4, "10 minutes"),
        (119.4, "119 minutes"),
        (120, "2.0 hours"),
        (1440, "24.0 hours"),
    ],
)
def test_minutes_in_words(minutes: float, words: str) -> None:
    assert spoken(minutes) == words
