"""`python -m stand_ins.kiosk`: a ticket kiosk, which writes a row for every ticket once it has been dealt with."""

import sys
from collections.abc import Iterable, Iterator, Sequence
from datetime import datetime

from stand_ins.running import Line, run
from stand_ins.service import Visit

HEADING = ("Ticket", "Errand", "Service", "Printed", "Called", "Finished", "Desk", "Remark")


def lines(visits: Iterable[Visit]) -> Iterator[Line]:
    """Yield what the kiosk writes: times by day, month and year, nothing where there is none."""
    for visit in visits:
        when = visit.finished or visit.called or visit.came
        ticket = f"{visit.type[:1].upper() or 'T'}{visit.case:05}"
        remark = "gave up" if visit.gave_up else ""
        called = None if visit.gave_up else visit.called
        times = (_time(each) for each in (visit.came, called, visit.finished))
        yield when, (ticket, visit.type, visit.step, *times, visit.member, remark)


def _time(moment: datetime | None) -> str:
    return f"{moment:%d.%m.%Y %H:%M:%S}" if moment else ""


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the kiosk."""
    return run("kiosk", HEADING, ";", lines, arguments)


if __name__ == "__main__":
    sys.exit(main())
