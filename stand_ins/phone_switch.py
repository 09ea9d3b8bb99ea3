"""`python -m stand_ins.phone_switch`: a phone switch, which writes a row for everything that happens to a call."""

import sys
from collections.abc import Iterable, Iterator, Sequence
from datetime import datetime

from stand_ins.running import Line, run
from stand_ins.service import Visit

HEADING = ("call_id", "timestamp", "event", "queue", "agent", "subject")


def lines(visits: Iterable[Visit]) -> Iterator[Line]:
    """Yield what the switch writes: times as ISO 8601 with milliseconds."""
    for visit in visits:
        yield _line(visit, visit.came, "queued", "")
        if visit.called:
            yield _line(visit, visit.called, "answered", visit.member)
        if visit.finished:
            yield _line(visit, visit.finished, "abandoned" if visit.gave_up else "hung up", visit.member)


def _line(visit: Visit, at: datetime, event: str, agent: str) -> Line:
    return at, (str(visit.case), at.isoformat(timespec="milliseconds"), event, visit.step, agent, visit.type)


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the switch."""
    return run("phone_switch", HEADING, ",", lines, arguments)


if __name__ == "__main__":
    sys.exit(main())
