"""The logbook and the way of a case, on a morning worked out by hand."""

import json
import subprocess
import sys
from pathlib import Path

import pytest

from flowcore.problems import StudyError
from flowcore.replay.candidates import worth_watching
from flowcore.replay.logbook import NOTES_OF, WORDS, Asked, LogKind, logbook
from flowcore.replay.outline import ToFollow, long_waits, outline_of
from flowcore.replay.recorder import Recorder
from flowcore.replay.shift import time_of_member
from flowcore.replay.way import way_of
from flowcore.simulate import simulate
from flowcore.study import read_study, written
from tests.flowcore.builders import exit_step, serve
from tests.flowcore.replay.test_written import a_morning


def told(case: int) -> list[tuple[float, float, str, str, str, list[str]]]:
    way = way_of(a_morning(), 0, case)
    return [(each.at, each.until, each.doing, each.name, each.cause, each.whom) for each in way.stretches]


def test_the_ways_of_a_morning() -> None:
    assert told(1) == [(60, 70, "work", "Desk", "", ["Clerks 1"])]
    assert told(3) == [(60, 80, "waits", "Desk", "all busy", []), (80, 90, "work", "Desk", "", ["Clerks 1"])]
    assert told(5) == [(180, 205, "waits", "Desk", "on a break", [])]
    assert [(way.leaves_by, way.gives_up) for way in (way_of(a_morning(), 0, case) for case in (1, 5))] == [
        ("Out", False),
        ("Gone", True),
    ]


def test_branches_have_lanes_of_their_own() -> None:
    fork = {"id": "fork", "name": "Fork", "kind": "fork", "join": "join", "next": [{"to": "desk"}, {"to": "other"}]}
    steps = [
        fork,
        serve("desk", "10 min", None, {"join": 1}),
        serve("other", "30 min", None, {"join": 1}),
        {"id": "join", "name": "Join", "kind": "join", "next": [{"to": "out"}]},
        exit_step(),
    ]
    study = a_morning(steps=steps, teams=[])
    study.streams[0].to = "fork"
    way = way_of(study, 0, 4)
    assert [(each.lane, each.at, each.until, each.doing, each.cause) for each in way.stretches] == [
        (0, 120, 130, "work", ""),
        (1, 120, 150, "work", ""),
        (0, 130, 150, "waits", "for other branches"),
    ]


def test_a_case_that_there_is_not_says_so() -> None:
    with pytest.raises(StudyError, match="no case 7"):
        way_of(a_morning(), 0, 7)


def test_the_logbook_says_in_words_what_happened() -> None:
    book = logbook(a_morning(), 0, 65, 130)
    assert [(line.at, line.words) for line in book.lines][:4] == [
        (70, "Case 1 is done at Desk with Clerks 1"),
        (70, "Case 1 comes to Out"),
        (70, "Case 1 leaves by Out"),
        (70, "Case 2 begins at Desk with Clerks 1"),
    ]
    assert not book.more
    assert {line.case for line in logbook(a_morning(), 0, 0, 360, Asked(case=3)).lines} == {3}
    of_shift = ["Clerks 1 begins the shift", "Clerks 1 takes a break", "Clerks 1 is back", "Clerks 1 goes home"]
    of_member = logbook(a_morning(), 0, 0, 360, Asked(member="Clerks 1")).lines
    assert [line.words for line in of_member if line.case is None] == of_shift
    of_kind = logbook(a_morning(), 0, 0, 360, Asked(kind=LogKind.MEMBERS)).lines
    assert [line.words for line in of_kind] == of_shift


def test_every_event_of_the_logbook_is_of_one_kind() -> None:
    assert sorted(note for notes in NOTES_OF.values() for note in notes) == sorted(WORDS)
    whole = logbook(a_morning(), 0, 0, 360).lines
    parts = [line for kind in LogKind for line in logbook(a_morning(), 0, 0, 360, Asked(kind=kind)).lines]
    assert sorted((line.at, line.words) for line in parts) == sorted((line.at, line.words) for line in whole)


def test_the_command_line_writes_the_logbook(tmp_path: Path) -> None:
    path = tmp_path / "study.json"
    path.write_text(json.dumps(written(a_morning())))
    asked = ["logbook", str(path), "--from", "205 min", "--to", "206 min", "--case", "5"]
    found = subprocess.run([sys.executable, "-m", "flowcore", *asked], capture_output=True, text=True, check=True)
    assert found.stdout.splitlines() == [
        "2027-03-01 10:25:00  Case 5 gives up at Desk",
        "2027-03-01 10:25:00  Case 5 comes to Gone",
        "2027-03-01 10:25:00  Case 5 leaves by Gone",
    ]


def test_who_left_is_counted_by_the_day() -> None:
    study = a_morning(run={"length": "2 d", "seed": 4, "replications": 3})
    pieces = list(Recorder(study, 0).pieces(1440.0))
    outline = outline_of(study, pieces)
    assert (outline.left, outline.gave_up) == ([0, 4, 4], [0, 2, 2])
    assert [(piece.left, piece.gave_up) for piece in pieces] == [(0, 0), (4, 2)]
    typical = outline.to_follow["all"].typical
    assert typical is not None
    assert typical.case in (2, 3), "waits 0 0 10 20 25 25"


def test_equal_replications_are_worth_watching_once() -> None:
    [only] = worth_watching(simulate(a_morning()))
    assert (only.number, only.words) == (0, "the one nearest the mean")


def test_the_day_of_a_member_by_hand() -> None:
    told = time_of_member(a_morning(), 0, "clerks", 1, 0, 360)
    spells = [(each.at, each.until, each.doing, each.case) for each in told.spells]
    assert spells == [
        (0, 60, "free", None),
        (60, 70, "at work", 1),
        (70, 80, "at work", 2),
        (80, 90, "at work", 3),
        (90, 120, "free", None),
        (120, 130, "at work", 4),
        (130, 180, "free", None),
        (180, 210, "on a break", None),
        (210, 300, "free", None),
        (300, 360, "off shift", None),
    ]
    assert told.minutes == {"free": 230, "at work": 40, "on a break": 30}
    assert [each.at for each in time_of_member(a_morning(), 0, "clerks", 1, 65, 75).spells] == [65, 70]
    with pytest.raises(StudyError, match="no member 2"):
        time_of_member(a_morning(), 0, "clerks", 2, 0, 360)


def test_who_waited_long_at_a_step() -> None:
    study = a_morning()
    found = long_waits(study, Recorder(study, 0).pieces(100.0), 9.0, "desk")
    assert found.many == 4
    assert [(each.case, each.words, each.at) for each in found.waits] == [
        (5, "25 min", 205),
        (6, "25 min", 205),
        (3, "20 min", 80),
        (2, "10 min", 70),
    ]
    assert long_waits(study, Recorder(study, 0).pieces(100.0), 22.0, None).many == 2
    assert long_waits(study, Recorder(study, 0).pieces(100.0), 0.0, "nowhere").many == 0


def test_cases_of_one_type_are_followed_by_themselves() -> None:
    """Those of odd numbers are quick: they wait 0, 20 and 25 minutes; the others are slow and wait 10, 0 and 25."""
    morning = written(a_morning())
    for place, arrival in enumerate(morning["streams"][0]["arrivals"]):
        arrival["type"] = ("quick", "slow")[place % 2]
    study = read_study(morning | {"case_types": [{"id": each, "name": each.title()} for each in ("quick", "slow")]})
    worth = outline_of(study, Recorder(study, 0).pieces(100.0)).to_follow
    told = {
        kind: [mark and (mark.case, mark.at) for mark in (each.longest_wait, each.typical, each.gave_up)]
        for kind, each in worth.items()
    }
    assert told["quick"] == [(5, 205), (3, 60), (5, 205)]
    assert told["slow"] == [(6, 205), (2, 60), (6, 205)]
    assert told["all"][0] == told["all"][2] == (5, 205)
    slow = long_waits(study, Recorder(study, 0).pieces(100.0), 0.0, "desk", "slow")
    assert [(each.case, each.words) for each in slow.waits] == [(6, "25 min"), (2, "10 min")]
    assert long_waits(study, Recorder(study, 0).pieces(100.0), 0.0, None, "nobody").many == 0


def test_a_service_to_which_nobody_comes_can_be_watched() -> None:
    study = a_morning(start="2027-03-02T07:00")
    outline = outline_of(study, Recorder(study, 0).pieces(60.0))
    assert outline.to_follow["all"] == ToFollow(longest_wait=None, typical=None, gave_up=None)
    assert outline.waiting == {}
    assert set(outline.inside) == {0}
    assert long_waits(study, Recorder(study, 0).pieces(60.0), 0.0, None).many == 0
