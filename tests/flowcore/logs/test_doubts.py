"""What is doubtful in a log is found, said and treated as chosen; the rest stays as it is."""

from pathlib import Path

import numpy as np
import pytest

from flowcore.logs.doubts import Choice, Treatment, doubts_in, treated
from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised
from flowcore.logs.visits import Visits
from tests.flowcore.logs.files import a_file

HEADING = "case,step,who,arrived,start,end\n"
KEEP_ALL = Treatment(**dict.fromkeys(Treatment.model_fields, Choice.KEEP))


def at(minute: float) -> str:
    return f"2027-03-01 {8 + int(minute // 60):02}:{int(minute % 60):02}:{round(minute % 1 * 60):02}"


def log(folder: Path, rows: list[tuple[int, str, float, float, float]]) -> Visits:
    lines = [f"{case},Desk,{who},{at(came)},{at(began)},{at(ended)}" for case, who, came, began, ended in rows]
    path = a_file(folder, HEADING + "\n".join(lines) + "\n")
    return read_log(path, recognised(path).reading)[0]


def told(visits: Visits, treatment: Treatment) -> dict[str, tuple[int, list[int]]]:
    return {doubt.kind: (doubt.many, doubt.lines) for doubt in doubts_in(visits, treatment)}


def test_nothing_is_doubtful_in_a_sound_log(tmp_path: Path) -> None:
    visits = log(tmp_path, [(n, "A", n, n + 1, n + 4) for n in range(30)])
    assert doubts_in(visits, Treatment()) == []
    assert len(treated(visits, Treatment())) == 30


def test_rows_that_are_there_twice(tmp_path: Path) -> None:
    rows = [(n, "A", n, n + 1, n + 4 + n % 3) for n in range(30)]
    visits = log(tmp_path, [*rows, rows[3], rows[7]])
    assert told(visits, Treatment()) == {"double": (2, [32, 33])}
    assert len(treated(visits, Treatment())) == 30
    assert len(treated(visits, KEEP_ALL)) == 32


@pytest.mark.parametrize(
    ("choice", "left", "work"), [("leave-out", 1, [3]), ("set-right", 2, [0, 3]), ("keep", 2, [-4, 3])]
)
def test_ends_before_their_begin(tmp_path: Path, choice: str, left: int, work: list[float]) -> None:
    visits = log(tmp_path, [(1, "A", 0, 5, 1), (2, "A", 2, 3, 6)])
    treatment = Treatment(backwards=Choice(choice))
    assert told(visits, treatment) == {"backwards": (1, [2])}
    done = treated(visits, treatment)
    assert len(done) == left
    assert done.work.round(6).tolist() == work


def test_a_clock_that_is_late_is_found_and_set(tmp_path: Path) -> None:
    """Desk B's clock is seven minutes late: who is called there at once seems to be called before coming."""
    waits = [0, 0, 3, 6, 0, 9]
    true = [(n, "AB"[n % 2], 2 * n, 2 * n + waits[n % 6], 2 * n + waits[n % 6] + 5) for n in range(120)]
    visits = log(tmp_path, [(c, w, a + 10, b + 10 - 7 * (w == "B"), e + 10 - 7 * (w == "B")) for c, w, a, b, e in true])
    [doubt, *rest] = doubts_in(visits, Treatment())
    assert (doubt.kind, doubt.many) == ("late_clock", 60)
    assert "B 7 min" in doubt.words
    assert rest == [], "once the clock is set, nothing begins before it came"
    done = treated(visits, Treatment())
    assert (done.began - done.came).round(6).tolist() == [float(b - a) for _, _, a, b, _ in true]
    assert "backwards" in told(visits, Treatment(late_clock=Choice.KEEP))


def test_unusually_long_work(tmp_path: Path) -> None:
    rows = [(n, "A", n, n + 1, n + 3 + n % 4) for n in range(40)]
    visits = log(tmp_path, [*rows, (99, "A", 0, 1, 400)])
    assert told(visits, Treatment()) == {"very_long": (1, [42])}
    assert len(treated(visits, Treatment(very_long=Choice.LEAVE_OUT))) == 40
    shortened = treated(visits, Treatment(very_long=Choice.SET_RIGHT)).work
    assert 6 < shortened.max() < 100
    assert treated(visits, Treatment()).work.max() == pytest.approx(399)


def test_what_is_missing_can_be_left_out(tmp_path: Path) -> None:
    lines = [f"{n},Desk,A,{at(n)},{at(n + 1)},{'' if n == 4 else at(n + 3)}" for n in range(10)]
    lines.append(f"20,Desk,A,{at(5)},,{at(9)}")
    path = a_file(tmp_path, HEADING + "\n".join(lines) + "\n")
    visits, _ = read_log(path, recognised(path).reading)
    assert told(visits, Treatment()) == {"no_begin": (1, [12]), "no_end": (1, [6])}
    done = treated(visits, Treatment(no_begin=Choice.LEAVE_OUT, no_end=Choice.LEAVE_OUT))
    assert len(done) == 9
    assert not np.isnan(done.work).any()
