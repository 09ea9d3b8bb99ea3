"""Bookings whose truth is known: slots, how many are filled, who stays away and who is late are given back."""

from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
import pytest

from flowcore.calibration.found import LogFound, found_in
from flowcore.calibration.proposals import proposals_for
from flowcore.calibration.proposals.matching import Matching
from flowcore.calibration.proposals.proposal import Proposal
from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised
from flowcore.logs.roles import Role
from flowcore.study import read_study
from tests.flowcore.builders import Part, exit_step, serve, stream

WEEKDAYS = ["mon", "tue", "wed", "thu", "fri"]
SESSIONS = [
    {"days": WEEKDAYS, "from": "09:00", "to": "12:00", "every": "20 min", "places": 2},
    {"days": ["tue", "thu"], "from": "14:00", "to": "16:00", "every": "30 min", "places": 1},
]
FILLED, NO_SHOW, MEAN, SD = 0.9, 0.08, -4.0, 6.0
WEEKS = 12
MONDAY = datetime(2027, 3, 1)


def bookings() -> list[datetime]:
    """Return the slots that are booked."""
    luck = np.random.default_rng(4)
    found = []
    for week in range(WEEKS):
        for session in SESSIONS:
            first, last = (timedelta(hours=int(session[end][:2])) for end in ("from", "to"))
            every = timedelta(minutes=int(session["every"].split()[0]))
            for day in session["days"]:
                slot = MONDAY + timedelta(days=7 * week + WEEKDAYS.index(day)) + first
                while slot < slot.replace(hour=0, minute=0) + last:
                    found += [slot] * int((luck.random(session["places"]) < FILLED).sum())
                    slot += every
    return found


@pytest.fixture(scope="module")
def found(tmp_path_factory: pytest.TempPathFactory) -> LogFound:
    """What a spreadsheet says: a row for each booking, also where nobody came, and for each who came without one."""
    luck = np.random.default_rng(9)
    rows = ["Case,Kind,Desk visited,Appointment,Arrived,Started,Finished"]
    for number, slot in enumerate(bookings()):
        came = slot + timedelta(minutes=float(luck.normal(MEAN, SD)))
        rest = f"{came:%F %T},{came:%F %T},{came + timedelta(minutes=5):%F %T}" if luck.random() >= NO_SHOW else ",,"
        rows.append(f"B{number},Check-up,Desk,{slot:%F %T},{rest}")
    for number in range(10 * WEEKS * 5):
        came = MONDAY + timedelta(days=number // 50 * 7 + number % 5, hours=8 + float(luck.random() * 8))
        rows.append(f"W{number},Illness,Desk,,{came:%F %T},{came:%F %T},{came + timedelta(minutes=9):%F %T}")
    path = tmp_path_factory.mktemp("bookings") / "book.csv"
    path.write_text("\n".join(rows))
    reading = recognised(path).reading
    assert reading.place(Role.PLANNED) == 3
    visits, report = read_log(path, reading)
    assert report.unread == 0
    return found_in(visits)


def clinic(**more: object) -> Part:
    booked = {"id": "booked", "name": "Booked", "kind": "appointments", "to": "desk", "sessions": SESSIONS}
    kept = {"filled": FILLED, "no_show": NO_SHOW, "punctuality": {"dist": "normal", "mean": "-4 min", "sd": "6 min"}}
    return {
        "name": "Clinic",
        "case_types": [{"id": "check-up", "name": "Check-up"}, {"id": "illness", "name": "Illness"}],
        "streams": [
            booked | kept | {"mix": [{"type": "check-up", "share": 1}]} | more,
            stream("desk", "10 min", id="walk-ins", name="Walk-ins", mix=[{"type": "illness", "share": 1}]),
        ],
        "steps": [serve("desk", "5 min", None, {"out": 1}), exit_step()],
    }


def told(document: Part, found: LogFound) -> dict[str, Proposal]:
    return {each.at: each for each in proposals_for(read_study(document), found, Matching()).proposals}


def test_what_is_booked_agrees_with_its_own_study(found: LogFound) -> None:
    proposals = told(clinic(), found)
    keys = ("sessions", "filled", "no_show", "punctuality")
    assert {key: proposals[f"/streams/booked/{key}"].agrees for key in keys} == dict.fromkeys(keys, True)
    assert proposals["/streams/booked/sessions"].new == SESSIONS


def test_another_study_differs(found: LogFound) -> None:
    proposals = told(clinic(filled=0.5, no_show=0.2, punctuality=None, sessions=SESSIONS[:1]), found)
    keys = ("sessions", "filled", "no_show", "punctuality")
    assert [proposals[f"/streams/booked/{key}"].agrees for key in keys] == [False] * 4
    assert proposals["/streams/booked/filled"].new == pytest.approx(FILLED, abs=0.03)
    assert proposals["/streams/booked/no_show"].new == pytest.approx(NO_SHOW, abs=0.03)
    assert proposals["/streams/booked/punctuality"].new["dist"] == "normal"


def test_who_comes_without_is_of_the_other_stream(found: LogFound) -> None:
    [all_, check_ups] = found.booked
    assert (all_.type, check_ups.type) == (None, "Check-up")
    walk_ins = told(clinic(), found)["/streams/walk-ins/week"]
    assert sum(walk_ins.new) == pytest.approx(50, rel=0.01)
    aside = proposals_for(read_study(clinic()), found, Matching()).aside
    assert aside == []


def test_of_lone_moments_too(tmp_path: Path) -> None:
    """A row for each thing that happens; the booking stands in all of them, and in one of a case that never came."""
    rows = ["case,activity,event,time,booked"]
    for number in range(40):
        slot = MONDAY + timedelta(days=number // 8, hours=9, minutes=20 * (number % 8))
        words = ("arrived", "started", "completed") if number % 10 else ()
        for minute, word in enumerate(words):
            rows.append(f"{number},Desk,{word},{slot + timedelta(minutes=minute):%F %T},{slot:%F %T}")
        if not words:
            rows.append(f"{number},Desk,arrived,,{slot:%F %T}")
    path = tmp_path / "moments.csv"
    path.write_text("\n".join(rows))
    visits, report = read_log(path, recognised(path).reading)
    [booked] = found_in(visits).booked
    assert (report.unread, booked.no_show.many, booked.no_show.out_of, booked.came) == (0, 4, 40, 36)
    assert booked.punctuality == "0 min"
