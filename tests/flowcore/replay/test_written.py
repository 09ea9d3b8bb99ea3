"""Pieces as bytes come back the same; an outline tells what a day by hand had."""

import json

import numpy as np
import pytest

from flowcore.replay.outline import outline_of
from flowcore.replay.recorder import Recorder
from flowcore.replay.way import way_of
from flowcore.replay.written import REAL, WHOLE, written
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import Part, exit_step, serve
from tests.flowcore.days import cases_at, day, desk, team
from tests.flowcore.replay.make_shared import PATH, shared
from tests.flowcore.replay.reading import columns_in, lines_in
from tests.oracle.studies import study as put_together


@pytest.mark.parametrize("seed", range(6))
def test_what_is_written_comes_back_the_same(seed: int) -> None:
    for piece in Recorder(read_study(put_together(seed)), 0).pieces(60.0):
        head, columns = columns_in(written(piece))
        lines = lines_in(columns)
        cases = piece.cases[piece.cases.doing != 0]
        assert (head["begins"], head["ends"], head["is_last"]) == (piece.begins, piece.ends, piece.is_last)
        assert (head["members"], head["lines"]) == (len(piece.members), len(lines["at"]))
        assert lines["at"] == [piece.begins] * (len(cases) + len(piece.members)) + piece.changes.at.tolist()
        for name in ("who", *WHOLE, *REAL):
            whole = np.concatenate([cases[name], piece.members[name], piece.changes[name]])
            assert lines[name] == whole.tolist(), name


def a_morning(**more: object) -> StudyDocument:
    """Ten minutes of work for each: at 8:00 three come, at 9:00 one, in a break at 10:00 two, who give up after 25."""
    moments = [f"2027-03-01T{time}" for time in ("08:00", "08:00", "08:00", "09:00", "10:00", "10:00")]
    stream: Part = {
        "id": "in",
        "name": "In",
        "kind": "dates",
        "to": "desk",
        "arrivals": [{"at": each} for each in moments],
    }
    desk = serve("desk", "10 min", "clerks", {"out": 1}, line={"patience": "25 min", "gives_up_to": "gone"})
    exits = [exit_step(), exit_step("gone", abandoned=True)]
    clerks: Part = {"id": "clerks", "name": "Clerks", "roster": [{
        "days": ["mon"], "from": "07:00", "to": "12:00", "people": 1,
        "breaks": [{"name": "Tea", "at": "10:00", "length": "30 min"}],
    }]}  # fmt: skip
    return read_study(
        {
            "name": "A morning", "start": "2027-03-01T07:00", "streams": [stream], "steps": [desk, *exits],
            "teams": [clerks], "run": {"length": "6 h", "seed": 4, "replications": 2},
        } | more
    )  # fmt: skip


def test_an_outline_by_hand() -> None:
    study = a_morning()
    outline = outline_of(study, Recorder(study, 0).pieces(60.0))
    assert (outline.ends, outline.stands_still, outline.interval) == (360, False, 5)
    waiting = outline.waiting["desk"]
    assert [waiting[minute // 5] for minute in (55, 60, 65, 70, 75, 80, 120)] == [0, 2, 2, 1, 1, 0, 0]
    assert waiting[180 // 5 : 210 // 5] == [2, 2, 2, 2, 2, 0]
    assert max(outline.inside) == 3
    assert [(mark.at, mark.words) for mark in outline.marks] == [(180, "tea"), (205, "first to give up")]
    longest = outline.to_follow["all"].longest_wait
    assert longest is not None
    assert (longest.at, longest.step) == (205, "desk")
    line = outline.longest_line
    assert line is not None
    assert (line.at, line.step, line.words) == (60, "desk", "2 in line")


def test_the_longest_line_is_of_those_who_wait_for_work() -> None:
    held: Part = {"id": "held", "name": "Held", "kind": "signal", "clears": {"at": ["11:00"]}, "next": [{"to": "desk"}]}
    desk = serve("desk", "10 min", "clerks", {"out": 1})
    study = a_morning(steps=[held, desk, exit_step()])
    study.streams[0].to = "held"
    outline = outline_of(study, Recorder(study, 0).pieces(60.0))
    assert max(outline.waiting["held"]) == 6
    line = outline.longest_line
    assert line is not None
    assert (line.at, line.step, line.words) == (240, "desk", "5 in line")


def test_a_service_that_stands_still_can_be_watched_up_to_then() -> None:
    """Each of two cases is done at 5 and blocks the one for whom it waits."""
    full = {"line": {"max": 0}, "when_blocked": "keeps-people"}
    ways = [{"to": "one", "share": 1}, {"to": "out", "share": 0}]
    steps = [desk("5 min", id="one", to="two", **full), desk("5 min", id="two", team="others", **full, next=ways)]
    streams = [cases_at([0], to="one"), cases_at([0], to="two") | {"id": "more"}]
    study = day(streams, steps, [team(), team(id="others")])
    pieces = list(Recorder(study, 0).pieces(4.0))
    assert [piece.stands_still for piece in pieces] == [False] * (len(pieces) - 1) + [True]
    assert pieces[-1].is_last
    outline = outline_of(study, pieces)
    assert (outline.stands_still, outline.inside[-1]) == (True, 2)
    way = way_of(study, 0, 2)
    assert way.leaves_by is None
    assert [(each.doing, each.step, each.at, each.until) for each in way.stretches] == [("work", "two", 0, 5)]


def test_what_the_front_end_reads_is_what_the_engine_writes() -> None:
    assert json.loads(PATH.read_text()) == shared()
