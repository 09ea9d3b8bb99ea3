"""Teams, their rosters and interruptions as records, and the timeline of all that is known to come."""

from collections.abc import Iterator
from datetime import datetime

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records import plan as p
from flowcore.kernel.records.record import Table, layout, row, table
from flowcore.plan.keys import stable_key
from flowcore.plan.store import Store
from flowcore.study import StudyDocument, minutes
from flowcore.study.calendars import minute_of_day
from flowcore.study.durations import DAY
from flowcore.study.rosters import Break, RosterRow
from flowcore.study.teams import Interruption, Team
from flowcore.study.timetable import Period, minutes_since, most_at_once, open_periods, shifts_of

_KIND = {"people": c.TeamKind.PEOPLE, "places": c.TeamKind.PLACES, "equipment": c.TeamKind.EQUIPMENT}
_PICKS = {
    "longest-idle": c.MemberPick.LONGEST_IDLE,
    "least-used": c.MemberPick.LEAST_USED,
    "listed": c.MemberPick.LISTED,
    "random": c.MemberPick.RANDOM,
}
_RULE = {
    "finish": c.HandOver.FINISH,
    "finish-short": c.HandOver.FINISH_SHORT,
    "pause": c.HandOver.PAUSE,
    "hand-over": c.HandOver.HAND_OVER,
}
_STAY = {"leave": c.Stay.LEAVES, "clear-line": c.Stay.CLEARS_LINE, "empty": c.Stay.EMPTIES}
_TAKEN = {"together": c.BreakTaken.TOGETHER, "in-turn": c.BreakTaken.IN_TURN, "spread": c.BreakTaken.SPREAD}
BEFORE_START = -1.0

Entry = tuple[float, float, float, int, int, int]
"""When, since when and until when, rank, kind and subject of a TIMELINE entry."""


class TeamCompiler:
    """Turns teams into records; places with a capacity follow as teams of room."""

    def __init__(
        self, study: StudyDocument, rooms: dict[str, int], places: dict[str, int], store: Store, length: float
    ) -> None:
        self._study, self._rooms, self._places, self._store, self._length = study, rooms, places, store, length
        self._start = datetime.fromisoformat(study.start)
        self.teams: list[tuple[object, ...]] = []
        self.rows: list[tuple[object, ...]] = []
        self.breaks: list[tuple[object, ...]] = []
        self.interruptions: list[tuple[object, ...]] = []
        self.timeline: list[Entry] = []
        self._members = 0
        self._clocks = 0
        self.slots = 0
        for team in study.teams:
            self._add_team(team)
        for place_id in rooms:
            place = next(each for each in study.site.places if each.id == place_id)
            self._add_room(place_id, place.capacity or 0)

    def _add_team(self, team: Team) -> None:
        number, first_row, first_interruption = len(self.teams), len(self.rows), len(self.interruptions)
        first_member = self._members
        shifts = self._add_rows(team, number)
        self._members = first_member + team.members
        for interruption in team.interruptions:
            self._add_interruption(interruption, number, team.members)
        at_most = team.closing.at_most
        fields: dict[str, object] = {
            "key": stable_key("teams", team.id),
            "kind": _KIND[team.kind],
            "first_member": first_member,
            "members": team.members,
            "peak": most_at_once(shifts) if team.roster else team.members,
            "first_row": first_row,
            "rows": len(team.roster),
            "first_interruption": first_interruption,
            "interruptions": len(team.interruptions),
            "picks": _PICKS[team.picks],
            "at_break": _RULE[team.at_break],
            "at_shift_end": _RULE[team.at_shift_end],
            "stay": _STAY[team.closing.stay],
            "place": k.NONE if team.place is None else self._places[team.place],
            "walks": team.walks,
            "pace": team.pace,
            "rate": team.rate,
            "overtime": team.overtime,
            "use_cost": team.use_cost,
            "stay_at_most": k.NEVER if at_most is None else minutes(at_most),
            "absence": team.absence,
        }
        self.teams.append(row(p.Team, **fields))

    def _add_room(self, place_id: str, capacity: int) -> None:
        fields: dict[str, object] = dict.fromkeys(layout(p.Team).names or (), 0)
        fields |= {
            "key": stable_key("places", place_id),
            "kind": c.TeamKind.PLACE_CAPACITY,
            "first_member": self._members,
            "members": capacity,
            "peak": capacity,
            "place": k.NONE,
            "pace": 1.0,
            "overtime": 1.0,
        }
        self._members += capacity
        self.teams.append(row(p.Team, **fields))

    def _add_rows(self, team: Team, number: int) -> list[tuple[Period, int]]:
        all_shifts: list[tuple[Period, int]] = []
        member = self._members
        for each in team.roster:
            index, first_break = len(self.rows), len(self.breaks)
            self.breaks += [_break(each_break, index) for each_break in each.breaks]
            self.rows.append(
                row(
                    p.RosterRow,
                    team=number,
                    first_member=member,
                    members=each.people,
                    first_break=first_break,
                    breaks=len(each.breaks),
                    slot=self._slot(team),
                )
            )
            member += each.people
            shifts = shifts_of(each, team.closed, self._start, self._length)
            self.timeline += _shift_entries(shifts, index, self._length)
            self.timeline += _overtime_entries(each, shifts, index)
            all_shifts += [(shift, each.people) for shift in shifts]
        return all_shifts

    def _slot(self, team: Team) -> int:
        if team.closing.stay != "clear-line":
            return k.NONE
        self.slots += 1
        return self.slots - 1

    def _add_interruption(self, interruption: Interruption, team: int, members: int) -> None:
        after = interruption.after
        measure = c.ClockBy.CLOCK if after.clock else c.ClockBy.WORKING if after.working else c.ClockBy.CASES
        gap = after.clock or after.working or after.cases
        assert gap is not None
        each = interruption.strikes == "each"
        self.interruptions.append(
            row(
                p.Interruption,
                first_clock=self._clocks,
                after=self._store.number_of(gap),
                length=self._store.number_of(interruption.length),
                measure=measure,
                comes_to=c.Whom.EACH if each else c.Whom.WHOLE_TEAM,
                rule=_RULE[interruption.work],
                team=team,
            )
        )
        self._clocks += members if each else 1


def _break(each: Break, of_row: int) -> tuple[object, ...]:
    return row(
        p.BreakPlan,
        after=0.0 if each.after is None else minutes(each.after),
        at=-1.0 if each.at is None else minute_of_day(each.at),
        length=minutes(each.length),
        within=0.0 if each.within is None else minutes(each.within),
        taken=_TAKEN[each.taken],
        paid=each.paid,
        row=of_row,
    )


def _shift_entries(shifts: list[Period], row: int, length: float) -> Iterator[Entry]:
    """Yield the beginnings and ends of a row's shifts; where one follows on another nobody leaves between."""
    for number, (begin, end) in enumerate(shifts):
        yield max(0.0, begin), begin, end, k.Rank.CALENDAR, c.TimelineKind.SHIFT_STARTS, row
        follows = number + 1 < len(shifts) and shifts[number + 1][0] <= end
        if not follows and end <= length:
            yield end, begin, end, k.Rank.CALENDAR, c.TimelineKind.SHIFT_ENDS, row


def _overtime_entries(of: RosterRow, shifts: list[Period], row: int) -> Iterator[Entry]:
    """Yield the beginnings of the overtime that is planned at the end of a row's shifts."""
    if of.overtime is None:
        return
    for begin, end in shifts:
        begins = max(0.0, begin, end - minutes(of.overtime))
        yield begins, begin, end, k.Rank.CALENDAR, c.TimelineKind.OVERTIME_STARTS, row


def openings(periods: list[Period], opens: int, shuts: int, subject: int, length: float) -> Iterator[Entry]:
    """Yield the openings and closings of something that follows a calendar; before the start it is shut."""
    yield BEFORE_START, 0.0, 0.0, k.Rank.CALENDAR, shuts, subject
    for begin, end in periods:
        yield begin, begin, end, k.Rank.CALENDAR, opens, subject
        if end <= length:
            yield end, begin, end, k.Rank.CALENDAR, shuts, subject


def timetable(times: list[str], subject: int, start: datetime, length: float) -> Iterator[Entry]:
    """Yield the clearings of a timetable: every day at these times."""
    midnight = minutes_since(start, start.date().isoformat() + "T00:00")
    while midnight < length:
        for time in times:
            at = midnight + minute_of_day(time)
            if 0 <= at <= length:
                yield at, at, at, k.Rank.TIMETABLE, c.TimelineKind.TIMETABLED_SIGNAL, subject
        midnight += DAY


def timeline_records(entries: list[Entry]) -> Table[p.TimelineEntry]:
    """Return the timeline by time, at one time by rank, who goes before who comes; signals open last."""
    goes = (
        c.TimelineKind.SHIFT_ENDS,
        c.TimelineKind.DOORS_SHUT,
        c.TimelineKind.POOL_SHUTS,
        c.TimelineKind.SIGNAL_SHUTS,
    )
    in_turn = sorted(entries, key=lambda e: (e[0], e[3], e[4] not in goes, e[4] == c.TimelineKind.SIGNAL_OPENS))
    return table(p.TimelineEntry, in_turn)


class CalendarTable:
    """The open periods of all calendars."""

    def __init__(self, study: StudyDocument, store: Store, length: float) -> None:
        start = datetime.fromisoformat(study.start)
        self.numbers = {calendar.id: number for number, calendar in enumerate(study.calendars)}
        self.periods = {each.id: open_periods(each, start, length + 1) for each in study.calendars}
        self._rows = []
        for periods in self.periods.values():
            before, flat = 0.0, []
            for begin, end in periods:
                flat += [begin, end, before]
                before += end - begin
            self._rows.append(row(p.Calendar, first=store.put_numbers(flat), periods=len(periods)))

    def records(self) -> Table[p.Calendar]:
        """Return the calendars."""
        return table(p.Calendar, self._rows)
