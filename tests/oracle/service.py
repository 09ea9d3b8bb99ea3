"""What of a study never changes in a run: where cases can be, which ways lead on, and when who is there."""

from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from functools import cached_property
from typing import Any

from flowcore.study import StudyDocument, minutes
from flowcore.study.calendars import DAYS, minute_of_day

INSTANT = ("choose", "fork", "set", "scatter")
DAY = 1440.0


@dataclass(eq=False)
class Station:
    """A step at one of its places, or the beginning of a way that someone goes along with the case."""

    step: Any
    number: int
    place: str | None = None
    ways: "list[Way]" = field(default_factory=list)
    loop: int = -1
    escort: Any = None

    @cached_property
    def kind(self) -> str:
        return "serve" if self.escort or self.step.kind == "delay" else str(self.step.kind)

    @cached_property
    def needs(self) -> list[Any]:
        return [self.escort.escort] if self.escort else getattr(self.step, "needs", [])

    @cached_property
    def open(self) -> str | None:
        return self.get("open")

    @cached_property
    def overtime(self) -> str:
        return str(self.get("overtime", "yes"))

    def get(self, key: str, default: Any = None) -> Any:
        """Return a key of the step; the way of an escort has none."""
        return default if self.escort else getattr(self.step, key, default)

    @cached_property
    def line(self) -> Any:
        return self.get("line")


@dataclass(eq=False)
class Way:
    """A link out of a station, with all the stations among which one is picked at its end."""

    link: Any
    name: str
    ends: list[Station]
    closes: bool = False


class Service:
    """A study's stations, opening hours and shifts; `plan` lends only which ways close which loop."""

    def __init__(self, study: StudyDocument, plan: Any) -> None:
        self.study = study
        self.start = datetime.fromisoformat(study.start)
        self.length = minutes(study.run.length)
        self.types = {each.id: each for each in study.case_types}
        self.traits = {each.id: each for each in study.traits}
        self.stations: list[Station] = []
        self.at: dict[str, list[Station]] = {}
        self._lay_out()
        for station, row in zip(self.stations, plan.steps, strict=True):
            station.loop = int(row.loop)
            first = int(row.first_link)
            for turn, way in enumerate(station.ways):
                way.closes = bool(plan.links[first + turn].back)
        self.open = {each.id: self._open_periods(each) for each in study.calendars}
        self.places = {each.id: each for each in study.site.places}

    def _lay_out(self) -> None:
        for number, step in enumerate(self.study.steps):
            places = [option.place for option in step.places] or [step.place]
            self.at[step.id] = [Station(step, number, place) for place in places]
            self.stations += self.at[step.id]
        for station in list(self.stations):
            seen: dict[str, int] = {}
            for link in getattr(station.step, "next", []):
                turn = seen.get(link.to, 0)
                seen[link.to] = turn + 1
                name = f"{station.step.id}/{link.to}" + (f"/{turn}" if turn else "")
                ends = self.at[link.to]
                if link.escort is not None:
                    ends = [self._escort(station, link, name, end) for end in ends]
                station.ways.append(Way(link, name, ends))

    def _escort(self, start: Station, link: Any, name: str, end: Station) -> Station:
        """Return the station at the beginning of an escorted way."""
        station = Station(start.step, start.number, end.place, escort=link)
        station.ways = [Way(link, name, [end])]
        self.stations.append(station)
        return station

    def _days(self) -> list[tuple[date, float]]:
        first = self.start.date() - timedelta(days=1)
        midnight = -(self.start - datetime.combine(self.start.date(), datetime.min.time())).total_seconds() / 60 - DAY
        days = []
        while midnight < self.length:
            days.append((first, midnight))
            first, midnight = first + timedelta(days=1), midnight + DAY
        return days

    def _open_periods(self, calendar: Any) -> list[tuple[float, float]]:
        """Return when a calendar is open, in order, touching periods made one."""
        found = []
        for day, midnight in self._days():
            dated = [each for each in calendar.open if each.date == day.isoformat()]
            weekly = [] if day.isoformat() in calendar.closed else calendar.weekly
            for hours in dated or [each for each in weekly if DAYS[day.weekday()] in each.days]:
                found.append(_from_to(midnight, hours))
        merged: list[tuple[float, float]] = []
        for begin, end in sorted(found):
            if merged and begin <= merged[-1][1]:
                merged[-1] = (merged[-1][0], max(end, merged[-1][1]))
            else:
                merged.append((begin, end))
        return [(begin, end) for begin, end in merged if end > 0 and begin <= self.length]

    def is_open(self, calendar: str | None, now: float) -> bool:
        return calendar is None or any(begin <= now < end for begin, end in self.open[calendar])

    def shifts(self, team: Any, row: Any) -> list[tuple[float, float]]:
        """Return when a row of a roster works; a team's closed dates leave only what is for that date alone."""
        found = []
        for day, midnight in self._days():
            name = day.isoformat()
            alone = row.from_date == row.to_date == name
            is_open = alone or name not in team.closed
            is_in = (row.from_date or name) <= name <= (row.to_date or name)
            if is_open and is_in and DAYS[day.weekday()] in row.days:
                found.append(_from_to(midnight, row))
        return [(begin, end) for begin, end in found if end > 0]

    def minute_of_day(self, now: float) -> float:
        return (self.start.hour * 60 + self.start.minute + now) % DAY

    def weekday(self, now: float) -> str:
        return DAYS[(self.start + timedelta(minutes=now)).weekday()]

    def walk(self, start: str | None, end: str | None) -> float:
        """Return the minutes of walking between two places, none where one is not known."""
        if start is None or end is None or start == end:
            return 0.0
        site = self.study.site
        for pair in site.pairs:
            if {pair.from_, pair.to} == {start, end}:
                return pair.metres / site.walking_speed / 60
        one, other = self.places[start], self.places[end]
        x, y = abs(one.x - other.x), abs(one.y - other.y)
        metres = x + y if site.distance == "rectangular" else (x * x + y * y) ** 0.5
        return metres / site.walking_speed / 60


def _from_to(midnight: float, hours: Any) -> tuple[float, float]:
    begin, end = minute_of_day(hours.from_), minute_of_day(hours.to)
    return midnight + begin, midnight + (end if end > begin else end + DAY)
