"""Log files are recognised and read into visits; what cannot be read is said by its line, and nothing is half read."""

import gzip
import io
import math
import zipfile
from pathlib import Path

import numpy as np
import openpyxl
import pytest

from flowcore.logs import rows
from flowcore.logs.moments import Form, Moments, forms_of
from flowcore.logs.reading import Report, read_log
from flowcore.logs.recognising import recognised
from flowcore.logs.roles import Happening, Role
from flowcore.logs.visits import Outcome, Visits
from flowcore.problems import StudyError
from tests.flowcore.logs.files import KIOSK, PHONE, XES, a_file

EIGHT = 20878 * 1440.0 + 480
"""The first of March 2027, 08:00."""


def read(path: Path) -> tuple[Visits, Report]:
    return read_log(path, recognised(path).reading)


def roles(path: Path) -> dict[str, Role]:
    return {column.name: column.role for column in recognised(path).reading.columns}


def told(visits: Visits) -> list[tuple[str, str, float, float, float, str]]:
    """Return each visit's case and step, when it came, began and ended (minutes after eight), and with whom."""
    return [
        (
            visits.cases[visits.case[n]],
            visits.steps[visits.step[n]],
            *(round(float(each[n] - EIGHT), 4) for each in (visits.came, visits.began, visits.ended)),
            visits.people[visits.who[n]] if visits.who[n] >= 0 else "",
        )
        for n in range(len(visits))
    ]


def problem(path: Path) -> str:
    with pytest.raises(StudyError) as error:
        read(path)
    return str(error.value)


def test_a_kiosks_log(tmp_path: Path) -> None:
    path = a_file(tmp_path, KIOSK)
    assert roles(path) == {
        "Ticket": Role.CASE, "Errand": Role.TYPE, "Service": Role.STEP, "Printed": Role.CAME, "Called": Role.BEGAN,
        "Finished": Role.ENDED, "Desk": Role.WHO, "Remark": Role.HAPPENED,
    }  # fmt: skip
    visits, report = read(path)
    assert (report.rows, report.unread) == (4, 0)
    assert told(visits)[:2] == [
        ("P00001", "Counter", 0, 2.5, 10, "Desk 1"),
        ("P00001", "Cashier", 10, 11, 12.25, "Till"),
    ]
    assert [Outcome(each) for each in visits.outcome] == [
        Outcome.SERVED,
        Outcome.SERVED,
        Outcome.GAVE_UP,
        Outcome.SERVED,
    ]
    assert math.isnan(visits.began[2])
    assert math.isnan(visits.ended[3])
    assert [visits.types[each] for each in visits.type] == ["Passport", "Residence", "Residence"]


def test_a_phone_switchs_log(tmp_path: Path) -> None:
    path = a_file(tmp_path, PHONE)
    assert roles(path) == {
        "call_id": Role.CASE, "timestamp": Role.AT, "event": Role.HAPPENED, "queue": Role.STEP, "agent": Role.WHO,
        "subject": Role.TYPE,
    }  # fmt: skip
    visits, _ = read(path)
    first, second = told(visits)
    assert first == ("1", "Lost property", 0, round(30.5 / 60, 4), 5, "Agents 1")
    assert second[:3] == ("2", "Lost property", 1)
    assert visits.outcome.tolist() == [Outcome.SERVED, Outcome.GAVE_UP]
    assert visits.ended[1] - visits.came[1] == pytest.approx(5)


def test_xes_also_packed(tmp_path: Path) -> None:
    for path in (a_file(tmp_path, XES, "a.xes"), a_file(tmp_path, gzip.compress(XES.encode()), "a.xes.gz")):
        visits, report = read(path)
        assert report.unread == 0
        assert told(visits) == [("17", "Desk", 0, 1, 9, "Clerk 1")]
        assert visits.types == ["Lost"]


def test_a_workbook(tmp_path: Path) -> None:
    book = openpyxl.Workbook()
    sheet = book.worksheets[0]
    for line in KIOSK.splitlines():
        sheet.append(line.split(";"))
    path = tmp_path / "log.xlsx"
    book.save(path)
    assert recognised(path).sheets == ["Sheet"]
    as_text, _ = read(a_file(tmp_path, KIOSK))
    from_book, _ = read(path)
    assert told(from_book)[:2] == told(as_text)[:2]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
@pytest.mark.parametrize("separator", [",", ";", "\t", "|"])
def test_encodings_and_separators(tmp_path: Path, encoding: str, separator: str) -> None:
    text = KIOSK.replace("Passport", "Führerschein").replace(";", separator)
    visits, report = read(a_file(tmp_path, text.encode(encoding)))
    assert report.unread == 0
    assert len(visits) == 4
    assert visits.types[0] == "Führerschein"


@pytest.mark.parametrize(
    ("text", "form"),
    [
        ("2027-03-01 08:00", Form.YEAR_FIRST), ("2027-03-01T08:00:00Z", Form.YEAR_FIRST),
        ("2027/03/01 08:00:00.000", Form.YEAR_FIRST), ("20270301 08:00", Form.YEAR_FIRST),
        ("01.03.2027 08:00", Form.DAY_FIRST), ("1.3.27 8:00", Form.DAY_FIRST), ("01-Mar-2027 08:00", Form.DAY_FIRST),
        ("03/01/2027 8:00 AM", Form.MONTH_FIRST), ("1 March 2027 08:00", Form.DAY_FIRST),
        ("1803888000", Form.UNIX_SECONDS), ("1803888000000", Form.UNIX_MILLISECONDS),
        ("46447.3333333333", Form.SPREADSHEET_DAYS),
    ],
)  # fmt: skip
def test_forms_of_times(text: str, form: Form) -> None:
    assert form in forms_of([text])
    assert Moments(form).read(text) == pytest.approx(EIGHT, abs=0.001)


@pytest.mark.parametrize(
    "text", ["31.02.2027 08:00", "01.03.2027 24:30", "yesterday", "01.13.2027", "08:00", "1.3.99999"]
)
def test_what_is_no_time(text: str) -> None:
    assert math.isnan(Moments(Form.DAY_FIRST).read(text))


def test_zones() -> None:
    """In Berlin, half past seven in UTC is half past eight in winter and half past nine in summer."""
    berlin = Moments(Form.YEAR_FIRST, "Europe/Berlin")
    as_written = Moments(Form.YEAR_FIRST)
    for text, minute, written in (
        ("2027-03-01T07:30:00Z", 30.0, -30.0),
        ("2027-03-01T02:30:00-05:00", 30.0, -330.0),
        ("2027-03-01T08:30:00", 30.0, 30.0),
    ):
        assert berlin.read(text) - EIGHT == pytest.approx(minute)
        assert as_written.read(text) - EIGHT == pytest.approx(written)
    summer = berlin.read("2027-07-01T07:30:00Z") % 1440
    assert summer == pytest.approx(9.5 * 60)


def test_day_or_month_first_is_said_where_it_cannot_be_told(tmp_path: Path) -> None:
    text = "case,step,start,end\n1,Desk,03/04/2027 08:00,03/04/2027 08:10\n"
    assert any("the day or the month" in doubt for doubt in recognised(a_file(tmp_path, text)).doubts)
    clear = text + "2,Desk,03/14/2027 08:00,03/14/2027 08:10\n"
    found = recognised(a_file(tmp_path, clear))
    assert found.doubts == []
    assert found.reading.columns[2].form is Form.MONTH_FIRST


def test_what_cannot_be_read_is_said_by_line(tmp_path: Path) -> None:
    broken = KIOSK + "X1;Passport;Counter;31.02.2027 08:00:00;;;;\n;Passport;Counter;01.03.2027 08:00:00;;;;\n"
    broken += "X2;Passport;Counter;;;;;\nX3;a;b;01.03.2027 08:00:00;;;;;too;many\n"
    path = a_file(tmp_path, broken)
    reading = recognised(a_file(tmp_path, KIOSK, "sound.csv")).reading
    visits, report = read_log(path, reading)
    assert len(visits) == 4
    assert [(each.line, each.why.partition(":")[0]) for each in report.lines] == [
        (6, "a time that cannot be read"), (7, "no case"), (8, "no time"), (9, "too many cells"),
    ]  # fmt: skip
    assert report.unread == 4
    assert sum(report.reasons.values()) == 4


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "empty"),
        (b"\xd0\xcf\x11\xe0" + b"x" * 100, "neither text nor a workbook"),
        (b"PK\x03\x04 no zip at all", "workbook cannot be opened"),
        (b"<log><trace><event></log>", "not sound XML"),
        (b'<!DOCTYPE a [<!ENTITY b "c">]><log>&b;</log>', "definitions of its own"),
        (b"<log></log>", "no events"),
        (b"a;b\n" + b"x;" * 100_000 + b"\n", "columns or more"),
        (b"case,start\n" + b"1," + b"9" * 200_000, "cannot be read"),
        (b"just,some\nwords,here\n", "No column says"),
        (bytes(range(1, 256)) * 40, "is not written in"),
        (b'case;start\n1;"' + b"never closed\n" * 20_000, "cannot be read"),
        (b"a;b\n" + b";" * 2_000_000, "letters or more"),
        (b'<log><trace><string key="' + b"k" * 3_000_000 + b'"/></trace></log>', "no tag in"),
        (gzip.compress(KIOSK.encode(), mtime=0)[:60], "breaks off"),
    ],
)
def test_files_that_cannot_be_read(tmp_path: Path, content: bytes, words: str) -> None:
    assert words in problem(a_file(tmp_path, content))


def test_what_is_too_large_when_unpacked(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(rows, "MOST_BYTES", 1_000_000)
    monkeypatch.setattr(rows, "MOST_BYTES_OF_A_BOOK", 1_000_000)
    header = b"case,step,start,end\n"
    bomb = gzip.compress(header + b"1,Desk,2027-03-01 08:00,2027-03-01 08:10\n" * 100_000)
    assert len(bomb) < 100_000
    assert "more than" in problem(a_file(tmp_path, bomb))
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr("xl/worksheets/sheet1.xml", b"0" * 2_000_000)
    assert "more than" in problem(a_file(tmp_path, packed.getvalue(), "log.xlsx"))


def test_more_rows_than_a_log_can_have(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("flowcore.logs.reading.MOST_ROWS", 3)
    assert "more than 3 rows" in problem(a_file(tmp_path, KIOSK))


def test_another_encoding_than_was_thought(tmp_path: Path) -> None:
    text = KIOSK + "P9;Führerschein;Counter;01.03.2027 09:00:00;;;;\n"
    reading = recognised(a_file(tmp_path, KIOSK, "plain.csv")).reading
    with pytest.raises(StudyError, match="Choose another encoding"):
        read_log(a_file(tmp_path, text.encode("cp1252")), reading)


def test_a_begin_without_an_end_before_the_next_one(tmp_path: Path) -> None:
    text = """case,time,event,step
1,2027-03-01 08:00,start,Desk
1,2027-03-01 08:10,start,Desk
1,2027-03-01 08:15,suspend,Desk
1,2027-03-01 08:25,resume,Desk
1,2027-03-01 08:30,complete,Desk
1,2027-03-01 08:30,complete,Back office
2,2027-03-01 08:40,something else,Desk
"""
    path = a_file(tmp_path, text)
    found = recognised(path).reading
    assert found.happenings["something else"] is Happening.NOTHING
    visits, _ = read_log(path, found)
    assert [each[3:5] for each in told(visits)][1] == (10, 30)
    assert np.isnan(visits.ended).tolist() == [True, False, False]
    assert visits.paused.tolist() == [0, 10, 0]
    assert [visits.steps[each] for each in visits.step] == ["Desk", "Desk", "Back office"]


def test_a_moment_that_is_told_twice_counts_once(tmp_path: Path) -> None:
    rows = ["1,2027-03-01 08:00,start,Desk", "2,2027-03-01 08:00,start,Desk", "1,2027-03-01 08:10,complete,Desk"]
    visits, report = read(a_file(tmp_path, "\n".join(["case,time,event,step", *rows, *rows[1:], rows[1]])))
    assert (report.rows, report.twice, len(visits)) == (6, 3, 2)
    assert told(visits)[0][3:5] == (0, 10)


def test_a_moment_without_any_that_says_when_work_was(tmp_path: Path) -> None:
    visits, report = read(a_file(tmp_path, "case,time,event,step\n1,2027-03-01 08:00,suspend,Desk\n"))
    assert (report.unread, len(visits), np.isnan(visits.began).all()) == (0, 1, True)


def test_another_column_of_times_beside_that_of_the_moment(tmp_path: Path) -> None:
    text = "case,time,event,step,appointment\n1,2027-03-01 08:05,start,Desk,2027-03-01 08:00\n"
    path = a_file(tmp_path, text)
    assert roles(path)["appointment"] is Role.PLANNED
    assert told(read(path)[0])[0][3] == 5


def test_a_list_of_arrivals_alone(tmp_path: Path) -> None:
    visits, _ = read(a_file(tmp_path, "ticket,printed\nA1,2027-03-01 08:03\nA2,2027-03-01 08:04\n"))
    assert [each[2] for each in told(visits)] == [3, 4]


@pytest.mark.parametrize("head", ["ticket,printed,called,finished,service", "case,time,event,step"])
def test_a_step_of_blanks_is_no_step_of_its_own(tmp_path: Path, head: str) -> None:
    """A visit without a step is at the one step that there is; a moment without one is about no step."""
    times = ",".join("2027-03-01 08:0" + digit for digit in "123")
    row = f"1,{times},  " if "ticket" in head else "1,2027-03-01 08:00,start,  "
    other = f"2,{times},Desk" if "ticket" in head else "2,2027-03-01 08:00,start,Desk"
    visits, report = read(a_file(tmp_path, "\n".join([head, row, other])))
    assert report.unread == 0
    assert [visits.steps[each] for each in visits.step] == (["Service", "Desk"] if "ticket" in head else ["Desk"])


def test_a_zone_that_there_is_not(tmp_path: Path) -> None:
    path = a_file(tmp_path, KIOSK)
    with pytest.raises(StudyError, match="zone"):
        read_log(path, recognised(path).reading.model_copy(update={"zone": "../Mars"}))
