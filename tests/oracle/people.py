"""Members: when they are there, why they are away, and with whom they are busy."""

from collections import Counter
from itertools import count
from math import floor
from typing import Any

from flowcore.study import minutes
from flowcore.study.calendars import minute_of_day
from tests.oracle import luck
from tests.oracle.cases import INF, Case
from tests.oracle.clock import ROSTER

DAY = 1440.0


class Team:
    """A team, or the room of a place with a capacity."""

    def __init__(self, number: int, made: Any, kind: str, size: int) -> None:
        self.number, self.made, self.kind, self.size = number, made, kind, size
        self.id = made.id
        self.key = luck.key("places" if kind == "room" else "teams", made.id)
        self.members: list[Member] = []
        self.idle: list[Member] = []
        self.peak = size

    def get(self, key: str, default: Any) -> Any:
        return default if self.kind == "room" else getattr(self.made, key)


class Member:
    """One member: off, idle, with a case, or away."""

    def __init__(self, team: Team, number: int, row: Any) -> None:
        self.team, self.number, self.row = team, number, row
        self.here = row is None
        self.overtime = False
        self.away = ""
        self.misses = False
        self.goes_again = False
        self.owed: list[tuple[str, float, Any]] = []
        self.leaves_when_done = False
        self.case: Case | None = None
        self.walking = False
        self.walk_left = 0.0
        self.keep_until: str | None = None
        self.name: str | None = None
        self.taken_at: Any = None
        self.last_type: str | None = None
        self.place = team.get("place", None)
        self.used = 0.0
        self.spell: tuple[Case, float] | None = None
        self.time: Counter[tuple[str, bool]] = Counter()
        self.event: Any = None

    @property
    def state(self) -> str:
        if self.away:
            return self.away
        if not self.here:
            return "absent" if self.misses else "off"
        if self.case is None:
            return "idle"
        return "walking" if self.walking else "working"


class Row:
    """A row of a roster and those who work by it."""

    def __init__(self, team: Team, made: Any) -> None:
        self.team, self.made = team, made
        self.members: list[Member] = []
        self.staying = False
        self.awaited: list[Case] = []
        self.shift = 0
        self.event: Any = None


class Wear:
    """A clock that counts down to an interruption, of a member or of a whole team."""

    def __init__(self, team: Team, number: int, member: Member | None) -> None:
        self.team, self.number, self.member = team, number, member
        self.made = team.made.interruptions[number]
        self.draws = 0
        self.left = INF
        self.event: Any = None
        self.waits = False

    @property
    def measure(self) -> str:
        after = self.made.after
        return "clock" if after.clock is not None else "working" if after.working is not None else "cases"


class People:
    """What the members of all teams do."""

    def hire(self) -> None:
        """Make all members, schedule all shifts and breaks, and start all clocks of interruptions."""
        numbers = count()
        made = [(each, each.kind, each.members) for each in self.study.teams]
        made += [(each, "room", each.capacity) for each in self.rooms()]
        self.teams = [Team(number, *each) for number, each in enumerate(made)]
        self.team = {each.id: each for each in self.teams if each.kind != "room"}
        self.room = {each.id: each for each in self.teams if each.kind == "room"}
        self.rows: list[Row] = []
        self.wear: list[Wear] = []
        for team in self.teams:
            rows = team.get("roster", [])
            if not rows:
                team.members = [Member(team, next(numbers), None) for _ in range(team.size)]
                team.idle = list(team.members)
            for made_row in rows:
                row = Row(team, made_row)
                self.rows.append(row)
                row.members = [Member(team, next(numbers), row) for _ in range(made_row.people)]
                team.members += row.members
            if rows:
                team.peak = self.most_at_once(team)
        self.members = [member for team in self.teams for member in team.members]
        self.schedule_shifts()
        for team in self.teams:
            for number, interruption in enumerate(team.get("interruptions", [])):
                each = interruption.strikes == "each"
                for member in team.members if each else [None]:
                    self.wear.append(Wear(team, number, member))
        for wear in self.wear:
            self.wind_up(wear)

    def rooms(self) -> list[Any]:
        used = {station.place for station in self.service.stations if station.kind == "serve"}
        return [each for each in self.study.site.places if each.capacity is not None and each.id in used]

    def most_at_once(self, team: Team) -> int:
        changes = [
            change
            for row in team.made.roster
            for begin, end in self.service.shifts(team.made, row)
            for change in ((begin, 1, row.people), (end, 0, -row.people))
        ]
        most = present = 0
        for _, _, people in sorted(changes):
            present += people
            most = max(most, present)
        return most

    # Shifts

    def schedule_shifts(self) -> None:
        entries = []
        for row in self.rows:
            shifts = self.service.shifts(row.team.made, row.made)
            for number, (begin, end) in enumerate(shifts):
                if begin > self.service.length:
                    continue
                entries.append((max(0.0, begin), 1, self.shift_begins, row, begin, end))
                follows = number + 1 < len(shifts) and shifts[number + 1][0] <= end
                if not follows:
                    entries.append((end, 0, self.shift_ends, row, begin, end))
                if row.made.overtime is not None:
                    planned = max(0.0, begin, end - minutes(row.made.overtime))
                    entries.append((planned, 1, self.overtime_begins, row, begin, end))
        for time, _, action, row, begin, end in sorted(entries, key=lambda each: each[:2]):
            self.at(time, ROSTER, action, row, begin, end)

    def shift_begins(self, row: Row, begin: float, end: float) -> None:
        row.staying = False
        row.awaited = []
        row.shift += 1
        for member in row.members:
            member.misses = self.is_absent(member, begin)
            if member.misses:
                self.stay_away(member)
            else:
                self.come(member)
        for rest in row.made.breaks:
            self.plan_break(row, rest, begin, end)

    def overtime_begins(self, row: Row, begin: float, end: float) -> None:
        for member in row.members:
            member.overtime = member.overtime or member.here

    def come(self, member: Member) -> None:
        member.overtime = False
        member.leaves_when_done = False
        if member.here:
            return
        member.here = True
        self.note("SHIFT_BEGAN", None, None, member)
        self.be_available(member)

    def is_absent(self, member: Member, begin: float) -> bool:
        team, row = member.team, member.row
        day = floor((self.service.minute_of_day(0.0) + begin + 0.5) / DAY) + 1
        rows = [each for each in self.rows if each.team is team]
        key = luck.chain(self.seed, team.key, rows.index(row), row.members.index(member), luck.ABSENCE)
        return luck.uniform(key, day) < team.made.absence

    def stay_away(self, member: Member) -> None:
        """Let a member miss its shift; who is still there leaves as after a shift."""
        self.note("MISSED_SHIFT", None, None, member)
        if member.here and not member.leaves_when_done:
            member.overtime = True
            self.end_shift(member)

    def be_available(self, member: Member) -> None:
        """Let a member who has come or come back go on with its case, or be idle."""
        if member.case is not None:
            if member.walk_left > 0:
                self.walk_to(member, member.walk_left)
            self.go_on_working(member.case)
        else:
            member.team.idle.append(member)

    def shift_ends(self, row: Row, begin: float, end: float) -> None:
        closing = row.team.made.closing
        row.shift += 1
        for member in row.members:
            member.misses = False
        if closing.stay == "clear-line":
            row.awaited = [each for each in self.waiting_for(row)]
            row.staying = bool(row.awaited)
        elif closing.stay == "empty":
            row.staying = self.inside > 0
        if not row.staying:
            self.row_leaves(row)
            return
        for member in row.members:
            if member.here:
                member.overtime = True
        if closing.at_most is not None:
            row.event = self.at(self.now + minutes(closing.at_most), ROSTER, self.overtime_over, row)

    def overtime_over(self, row: Row) -> None:
        if row.staying:
            self.row_leaves(row)

    def row_leaves(self, row: Row) -> None:
        row.staying = False
        row.awaited = []
        if row.event is not None:
            row.event.off = True
        for member in row.members:
            if member.here:
                self.end_shift(member)

    def look_at_stays(self) -> bool:
        """Let a row leave that stays for what is done by now; say whether there was one."""
        row = self.has_stayed_enough()
        if row is not None:
            self.row_leaves(row)
        return row is not None

    def has_stayed_enough(self) -> Row | None:
        """Return a row that stays for what is done by now."""
        for row in self.rows:
            empty = row.team.made.closing.stay == "empty"
            if row.staying and ((self.inside == 0) if empty else not row.awaited):
                return row
        return None

    def end_shift(self, member: Member) -> None:
        rule = member.team.made.at_shift_end
        if member.case is None:
            self.go_home(member)
        elif rule == "pause":
            self.put_aside(member)
            self.go_home(member)
        elif rule == "hand-over" and self.may_hand_over(member):
            member.overtime = member.leaves_when_done = True
            self.hand_back(member.case, "HANDED_BACK")
        else:
            member.overtime = True
            member.leaves_when_done = True

    def go_home(self, member: Member) -> None:
        member.here = member.overtime = member.leaves_when_done = False
        member.away = ""
        member.owed = []
        member.goes_again = False
        if member.event is not None:
            member.event.off = True
        if member in member.team.idle:
            member.team.idle.remove(member)
        self.note("SHIFT_ENDED", None, None, member)
        self.wind_up_again(member)

    # Breaks

    def plan_break(self, row: Row, rest: Any, begin: float, end: float) -> None:
        length = minutes(rest.length)
        if rest.after is not None:
            due = begin + minutes(rest.after)
        else:
            due = begin + (minute_of_day(rest.at) - self.service.minute_of_day(begin)) % DAY
        if due >= end:
            return
        shift = row.shift
        many = len(row.members)
        if rest.taken == "in-turn":
            first = 0
            while first < many and (row.members[first].misses or due + length <= self.now):
                due += 0.0 if row.members[first].misses else length
                first += 1
            if first < many:
                self.at_or_now(due, self.next_in_turn, row, shift, rest, first, due)
            return
        window = max(0.0, minutes(rest.within) - length) if rest.taken == "spread" else 0.0
        for number, member in enumerate(row.members):
            at = due + (window * number / (many - 1) if many > 1 else 0.0)
            if at + length > self.now or at >= self.now:
                self.at_or_now(at, self.break_due, member, shift, rest, at, None)

    def at_or_now(self, time: float, action: Any, *about: Any) -> None:
        """Let something happen at a time, or at once where the run begins after it."""
        if time >= self.now:
            self.at(time, ROSTER, action, *about)
        else:
            action(*about)

    def next_in_turn(self, row: Row, shift: int, rest: Any, number: int, planned: float) -> None:
        while number < len(row.members) and row.members[number].misses:
            number += 1
        if number < len(row.members) and row.shift == shift:
            self.break_due(row.members[number], shift, rest, planned, number)

    def break_due(self, member: Member, shift: int, rest: Any, planned: float, turn: int | None) -> None:
        is_of_this_shift = member.row.shift == shift and member.here and not member.misses
        if not is_of_this_shift:
            return
        length = planned + minutes(rest.length) - self.now
        then = None if turn is None else (member.row, shift, rest, turn + 1)
        rule = member.team.made.at_break if planned >= self.now else "finish-short"
        self.absence_due(member, "break" if rest.paid else "unpaid", length, rule, then)

    # Absences

    def absence_due(self, member: Member, kind: str, length: float, rule: str, then: Any) -> None:
        """Let a member go away now, or once its case is done; `then` is the next whose break it is."""
        owed = (kind, length, self.now + length if rule != "finish" else INF, then)
        if then is not None:
            self.call_instead(member)
        if member.away:
            member.owed.append(owed)
            member.goes_again = True
        elif member.case is None:
            self.go_away(member, kind, length, then)
        elif rule == "pause":
            self.put_aside(member)
            self.go_away(member, kind, length, then)
        elif rule == "hand-over" and self.may_hand_over(member):
            member.owed.append(owed)
            self.hand_back(member.case, "HANDED_BACK")
        else:
            member.owed.append(owed)

    def call_instead(self, member: Member) -> None:
        """Call the next to a break that a member owes, where another break in turn comes due for it."""
        for number, (kind, length, until, then) in enumerate(member.owed):
            if then is not None:
                member.owed[number] = (kind, length, until, None)
                self.at(self.now, ROSTER, self.next_in_turn, *then, self.now)

    def go_away(self, member: Member, kind: str, length: float, then: Any) -> None:
        if member in member.team.idle:
            member.team.idle.remove(member)
        member.away = kind
        self.note("WAS_INTERRUPTED" if kind == "interrupted" else "BREAK_BEGAN", None, None, member)
        member.then = then
        member.event = self.at(self.now + length, ROSTER, self.come_back, member)

    def come_back(self, member: Member) -> None:
        was, then = member.away, member.then
        member.away, member.then = "", None
        self.note("CAME_BACK", None, None, member)
        if then is not None:
            self.at(self.now, ROSTER, self.next_in_turn, *then, self.now)
        if was == "interrupted":
            self.wind_up_again(member)
        again, member.goes_again = member.goes_again, False
        if again or member.case is None:
            self.pay(member)
        else:
            self.be_available(member)

    def put_aside(self, member: Member) -> None:
        """Let a member leave its case for a while; the case waits for it."""
        case = member.case
        if member.walking:
            member.walk_left = member.walk_event_time - self.now
            member.walk_event.off = True
            member.walking = False
        self.pause_work(case)

    def may_hand_over(self, member: Member) -> bool:
        """Say whether a case can go back to its line: not with one who was kept from an earlier step."""
        return member.taken_at is member.case.station and member.case.where in ("served", "blocked", "done")

    def is_free(self, member: Member) -> None:
        """Let a member whose case is done be idle, or go where it owes to go."""
        member.case = None
        member.keep_until = None
        member.name = None
        member.walking = False
        if member.here and member.leaves_when_done:
            self.go_home(member)
        elif member.here and not member.away:
            self.pay(member)

    def pay(self, member: Member) -> None:
        """Let a member take what it owes, breaks first: full lengths add up, of fixed ends the latest holds."""
        for breaks in (True, False) if member.case is None else (True,):
            mine = [each for each in member.owed if (each[0] != "interrupted") == breaks]
            member.owed = [each for each in member.owed if each not in mine]
            length = sum(each[1] for each in mine if each[2] == INF)
            length = max([length, *(each[2] - self.now for each in mine if each[2] < INF)])
            decides = next((each for each in mine if each[3] is not None), mine[-1] if mine else None)
            then = decides[3] if decides else None
            if length > 0:
                self.go_away(member, decides[0], length, then)
                return
            if mine and not breaks:
                self.wind_up_again(member)
            if then is not None:
                self.at(self.now, ROSTER, self.next_in_turn, *then, self.now)
        self.be_available(member)

    # Interruptions

    def wear_draw(self, wear: Wear) -> Any:
        wear.draws += 1
        who = 0 if wear.member is None else wear.team.members.index(wear.member) + 1
        return luck.chain(self.seed, wear.team.key, wear.number, who, wear.draws << 8 | luck.MEMBER)

    def wind_up(self, wear: Wear, pause: float = 0.0) -> None:
        after = wear.made.after
        left = luck.value(after.clock or after.working or after.cases, self.wear_draw(wear))
        wear.left = max(1.0, round(left)) if wear.measure == "cases" else max(0.0, left)
        wear.waits = False
        if wear.event is not None:
            wear.event.off = True
        if wear.measure == "clock":
            wear.event = self.at(self.now + pause + wear.left, ROSTER, self.interruption_due, wear)

    def wind_up_again(self, member: Member) -> None:
        for wear in self.wear:
            if wear.member is member and wear.waits:
                self.wind_up(wear)

    def interruption_due(self, wear: Wear) -> None:
        if wear.member is not None:
            self.strike_one(wear)
        else:
            self.strike_all(wear)

    def strike_one(self, wear: Wear) -> None:
        member = wear.member
        if member.away or not member.here:
            self.wind_up(wear)
            return
        length = max(0.0, luck.value(wear.made.length, self.wear_draw(wear)))
        if wear.measure == "clock":
            wear.waits = True
        else:
            self.wind_up(wear)
        self.absence_due(member, "interrupted", length, wear.made.work, None)

    def strike_all(self, wear: Wear) -> None:
        length = max(0.0, luck.value(wear.made.length, self.wear_draw(wear)))
        self.wind_up(wear, length if wear.measure == "clock" else 0.0)
        for member in wear.team.members:
            if member.here and not member.away:
                self.absence_due(member, "interrupted", length, wear.made.work, None)

    def count_case(self, member: Member) -> None:
        """Count a case that a member has served."""
        for wear in self.wear:
            if wear.team is member.team and wear.member in (None, member) and wear.measure == "cases":
                wear.left -= 1
                if wear.left == 0 and wear.member is None:
                    self.first(self.strike_all, wear)
                elif wear.left == 0:
                    length = max(0.0, luck.value(wear.made.length, self.wear_draw(wear)))
                    until = INF if wear.made.work == "finish" else self.now + length
                    member.owed.append(("interrupted", length, until, None))
                    self.wind_up(wear)

    def working_clocks_due(self) -> float:
        """Return when the next clock of working time will strike if all goes on as it is."""
        return min((self.now + self.wear_left(each) for each in self.wear if each.measure == "working"), default=INF)

    def wear_left(self, wear: Wear) -> float:
        speed = self.wear_speed(wear)
        return wear.left / speed if speed else INF

    def wear_speed(self, wear: Wear) -> int:
        members = wear.team.members if wear.member is None else [wear.member]
        return sum(each.state == "working" for each in members)
