"""Who waits where, who is next, with whom, and for what."""

from collections import Counter
from collections.abc import Iterator
from itertools import combinations
from typing import Any

from flowcore.study import minutes
from tests.oracle import luck
from tests.oracle.cases import INF, Case
from tests.oracle.clock import SIGNAL
from tests.oracle.people import Member, Row, Team
from tests.oracle.service import Station

Need = tuple[int, tuple[Team, ...], int]
"""Which of a step's needs it is, the teams that may meet it, the preferred first, and how many are lacking."""


class Waiting:
    """The lines, and the choice among all who wait."""

    # What a case needs

    def teams_for(self, need: Any) -> tuple[Team, ...]:
        if need.team is not None:
            return (self.team[need.team],)
        able = [team for team in self.teams if team.kind != "room" and need.skill in team.made.skills]
        return tuple(
            sorted(able, key=lambda team: need.prefer.index(team.id) if team.id in need.prefer else len(need.prefer))
        )

    def needs_at(self, station: Station) -> list[Need]:
        """Return all needs of a station, the room of its place last."""
        if station not in self.known_needs:
            needs = [(number, self.teams_for(each), each.count) for number, each in enumerate(station.needs)]
            if station.place in self.room and not station.escort:
                needs.append((len(needs), (self.room[station.place],), 1))
            self.known_needs[station] = needs
        return self.known_needs[station]

    def kept(self, case: Case, station: Station) -> list[Member]:
        """Return the members whom a case still has when it is at a station."""
        if station is case.station and case.where not in ("done", "blocked"):
            return case.held
        here = case.station.step.id if case.station is not None else None
        return [each for each in case.held if each.keep_until not in (None, here)]

    def cover(self, case: Case, station: Station) -> dict[Member, int]:
        """Return which need each member whom a case keeps meets at a station."""
        kept = self.kept(case, station)
        left = {number: count for number, _, count in self.needs_at(station)}
        teams = {number: teams for number, teams, _ in self.needs_at(station)}
        met: dict[Member, int] = {}
        for number, need in enumerate(station.needs):
            person = case.known.get(need.same_as) if need.same_as else None
            if person in kept and person not in met and left[number] > 0 and person.team in teams[number]:
                met[person] = number
                left[number] -= 1
        for member in kept:
            for number, count in left.items():
                if member not in met and count > 0 and member.team in teams[number]:
                    met[member] = number
                    left[number] -= 1
        return met

    def lacking(self, case: Case, station: Station) -> list[Need]:
        """Return the needs that are not met by whom the case keeps."""
        if not case.held:
            return self.needs_at(station)
        met = Counter(self.cover(case, station).values())
        needs = [(number, teams, count - met[number]) for number, teams, count in self.needs_at(station)]
        return [need for need in needs if need[2] > 0]

    def persons(self, case: Case, station: Station) -> dict[int, Member]:
        """Return the particular members that a case's lacking needs ask for, by need."""
        asked: dict[int, Member] = {}
        if not case.known:
            return asked
        for number, teams, _ in self.lacking(case, station):
            need = station.needs[number] if number < len(station.needs) else None
            person = case.known.get(need.same_as) if need is not None and need.same_as else None
            is_with_it = person in self.kept(case, station) or person in asked.values()
            if person is not None and not is_with_it and person.team in teams:
                asked[number] = person
        return asked

    def are_there(self, case: Case, station: Station) -> bool:
        """Say whether the particular members whom a case asks for are idle, or will be as it leaves its step."""
        return all(
            each in case.held or (each in each.team.idle and self.may_serve(each, station))
            for each in self.persons(case, station).values()
        )

    # Who may serve

    def may_serve(self, member: Member, station: Station) -> bool:
        """Say whether a member does what is asked as far as overtime goes."""
        if station.overtime == "yes" or member.row is None:
            return True
        return member.overtime == (station.overtime == "only")

    def is_shut(self, station: Station) -> bool:
        if not self.service.is_open(station.open, self.now):
            return True
        if station.overtime != "only":
            return False
        teams = [team for _, teams, _ in self.needs_at(station) for team in teams]
        return bool(teams) and not any(team.get("roster", []) for team in teams)

    def idle(self, station: Station) -> dict[Team, int]:
        if station.overtime == "yes":
            return {team: len(team.idle) for team in self.teams}
        return {team: sum(self.may_serve(each, station) for each in team.idle) for team in self.teams}

    def split(self, needs: list[Need], free: dict[Team, int]) -> list[tuple[int, Team]] | None:
        """Return one team for every member that is lacking, the preferred where all others can still be met."""
        units = [(number, teams) for number, teams, count in needs for _ in range(count)]
        return self._split(units, Counter(free))

    def _split(self, units: list[Any], free: Counter[Team]) -> list[tuple[int, Team]] | None:
        if not units:
            return []
        number, teams = units[0]
        for team in teams:
            if free[team] > 0:
                free[team] -= 1
                rest = self._split(units[1:], free)
                free[team] += 1
                if rest is not None:
                    return [(number, team), *rest]
        return None

    # Lines

    def wait_in_line(self, case: Case, *, at_front: bool) -> None:
        station = case.station
        assert station is not None
        line = station.line
        case.token += 1
        self.turns += 1
        case.turn = -self.turns if at_front else self.turns
        case.rank = self.rank(case, at_front)
        case.where = "line"
        if line is not None and not at_front:
            if line.patience is not None:
                key = luck.of_case(case, luck.key("steps", station.step.id), luck.PATIENCE)
                self.at(self.now + luck.value(line.patience, key), SIGNAL, self.lose_patience, case, case.token)
            if line.min_wait is not None and minutes(line.min_wait) > 0:
                case.where = "ripening"
                self.at(self.now + minutes(line.min_wait), SIGNAL, self.ripen, case, case.token)
        case.state = "waiting"

    def rank(self, case: Case, at_front: bool) -> float:
        """Return a case's rank in its line; the lower is served first."""
        station = case.station
        discipline = station.line.discipline if station.line is not None else "first-come"
        if discipline == "priority":
            return -case.priority
        if at_front:
            return -INF
        if discipline == "due":
            return case.due
        if discipline == "shortest-work":
            return self.mean_work(case)
        if discipline == "random":
            return luck.uniform(luck.of_case(case, luck.key("steps", station.step.id), luck.RANK))
        return 0.0

    def order_in_line(self, case: Case) -> tuple[float, float]:
        if case.where == "blocked":
            return 0.0, case.turn
        last_come = case.station.line is not None and case.station.line.discipline == "last-come"
        return case.rank, -case.turn if last_come and case.turn > 0 else case.turn

    def ripen(self, case: Case, token: int) -> None:
        if case.token == token and case.where == "ripening":
            case.where = "line"

    def lose_patience(self, case: Case, token: int) -> None:
        if case.token == token and case.where in ("line", "ripening"):
            self.give_up(case, case.station.line.gives_up_to, "GAVE_UP")

    def in_line(self, station: Station) -> list[Case]:
        return [each for each in self.tokens if each.where in ("line", "ripening") and each.station is station]

    def room_of(self, station: Station) -> list[Station]:
        """Return the stations that share a waiting room."""
        shared = station.line.shared if station.line is not None else None
        if shared is None:
            return [station]
        return [each for each in self.service.stations if each.line is not None and each.line.shared == shared]

    def length(self, station: Station) -> int:
        """Return how many wait in the room before a station."""
        return sum(len(self.in_line(each)) for each in self.room_of(station))

    def coming(self, station: Station) -> int:
        """Return for how many on their way a place in the room is kept."""
        room = self.room_of(station)
        return sum(each.expected and each.goal in room for each in self.tokens)

    def is_full(self, case: Case, station: Station) -> bool:
        most = station.line.max if station.line is not None else None
        if most is None or self.length(station) + self.coming(station) < most:
            return False
        return not self.begins_at_once(case, station)

    def begins_at_once(self, case: Case, station: Station) -> bool:
        """Say whether a case that comes to a station would be served at this instant."""
        if station.line is not None and station.line.min_wait is not None and minutes(station.line.min_wait) > 0:
            return False
        needs = self.lacking(case, station)
        if not needs and not self.is_shut(station):
            return True
        others = [each for each in self.tokens if each is not case and self.place_in_line(each) is station]
        same = [each for each in others if self.lacking(each, station) == needs and not self.persons(each, station)]
        if self.coming(station) or self.has_stayed_enough() or (same and not self.persons(case, station)):
            return False
        if self.next_served() is not None:
            return False
        stood = case.station, case.where, case.turn, case.rank, case.held
        case.held = self.kept(case, station)
        case.station, case.where, case.turn = station, "line", INF
        case.rank = self.rank(case, False)
        found = self.next_served()
        case.station, case.where, case.turn, case.rank, case.held = stood
        return found is not None and found[0] is case and not found[2]

    # Who is next

    def place_in_line(self, case: Case) -> Station | None:
        """Return where a case can be called to: where it waits, or blocked before a line without places."""
        if case.where == "blocked" and case.goal.line.max == 0:
            return case.goal
        return case.station if case.where == "line" else None

    def heads(self) -> list[Case]:
        """Return who may be called: of each line the first of those who lack the same, and who waits for a person."""
        first: dict[Any, Case] = {}
        for case in self.tokens:
            station = self.place_in_line(case)
            if station is not None and not self.is_shut(station):
                group = (station, tuple(self.lacking(case, station)))
                if any(each not in case.held for each in self.persons(case, station).values()):
                    group = (case,)
                if group not in first or self.order_in_line(case) < self.order_in_line(first[group]):
                    first[group] = case
        return sorted(first.values(), key=lambda case: (self.lacks_someone(case), -case.priority, case.turn))

    def lacks_someone(self, case: Case) -> bool:
        return bool(self.lacking(case, self.place_in_line(case)))

    def next_served(self) -> tuple[Case, list[tuple[int, Any]], list[Case], Counter[Team]] | None:
        """Return who is served next, by which teams or persons, whose work is put down for it, who is kept from it."""
        kept: Counter[Team] = Counter()
        kept_from_lower: list[tuple[float, Team, int]] = []
        holding: set[Any] = set()
        for case in self.heads():
            station = self.place_in_line(case)
            free = self.idle(station)
            kept_from_it = kept.copy()
            for priority, team, some in kept_from_lower:
                kept_from_it[team] += some if priority > case.priority else 0
            for team in self.teams:
                free[team] = min(free[team], len(team.idle) - kept_from_it[team])
            asked = self.persons(case, station)
            if not self.are_there(case, station):
                continue
            needs = self.without(self.lacking(case, station), asked)
            for person in asked.values():
                free[person.team] -= person not in case.held
            are_left = min(free.values(), default=0) >= 0 or not asked
            found = self.split(needs, free) if are_left else None
            if found is not None:
                return case, [*asked.items(), *found], [], kept_from_it
            if station.get("preempts") and are_left:
                victims = self.victims(case, needs, free)
                if victims:
                    return case, [*asked.items()], victims, kept_from_it
            kind = (tuple(self.asked_as(station, needs)), station.overtime, station.open, station.get("preempts"))
            if not asked and (station.get("reserve"), kind) not in holding:
                holding.add((station.get("reserve"), kind))
                for _, teams, count in needs:
                    lacks = count
                    for team in teams:
                        some = min(lacks, max(0, free[team]))
                        free[team] -= some
                        lacks -= some
                        if station.get("reserve"):
                            kept[team] += some
                        elif station.get("preempts"):
                            kept_from_lower.append((case.priority, team, some))
        return None

    def asked_as(self, station: Station, needs: list[Need]) -> list[Any]:
        """Return for how many of which teams a case waits, under which names and until when."""
        asked: list[Any] = []
        for number, teams, count in needs:
            made = station.needs[number] if number < len(station.needs) else None
            names = None if made is None else (made.as_, made.same_as, made.keep_until)
            asked.append((teams, count, names))
        return asked

    def without(self, needs: list[Need], asked: dict[int, Member]) -> list[Need]:
        left = [(number, teams, count - (number in asked)) for number, teams, count in needs]
        return [need for need in left if need[2] > 0]

    def victims(self, case: Case, needs: list[Need], free: dict[Team, int]) -> list[Case]:
        """Return whose work must be put down so that a case's needs are met; empty where that does not do."""
        lower = [each for each in self.tokens if each.state == "work" and each.priority < case.priority and each.held]
        lower.sort(key=lambda each: (each.priority, -each.begun))
        station = self.place_in_line(case)
        chosen: list[Case] = []
        have = Counter({team: max(0, count) for team, count in free.items()})
        for teams, count in self.sets_of(needs):
            for each in lower:
                useful = [member.team for member in each.held if self.can_be_taken(member, each, station)]
                if sum(have[team] for team in teams) >= count:
                    break
                if each not in chosen and any(team in teams for team in useful):
                    chosen.append(each)
                    have.update(useful)
        return chosen if self.split(needs, have) is not None else []

    def can_be_taken(self, member: Member, case: Case, station: Station) -> bool:
        """Say whether a member would be free for a station if its case were put down."""
        stays = member.owed or member.leaves_when_done or member.taken_at is not case.station
        return not stays and self.may_serve(member, station)

    def sets_of(self, needs: list[Need]) -> list[tuple[tuple[Team, ...], int]]:
        """Return which teams must have how many for needs that share teams, those for the first needs first."""
        found = []
        for last in range(len(needs)):
            for chosen in (combination for size in range(last + 1) for combination in combinations(range(last), size)):
                among = [needs[number] for number in (*chosen, last)]
                if self.hang_together([set(teams) for _, teams, _ in among]):
                    teams = {team for _, each, _ in among for team in each}
                    numbers = sorted(team.number for team in teams)
                    found.append((last, numbers, tuple(teams), sum(count for _, _, count in among)))
        return [(teams, count) for _, _, teams, count in sorted(found, key=lambda each: each[:2])]

    def hang_together(self, sets: list[set[Team]]) -> bool:
        """Say whether teams are shared so that all sets are one."""
        reached, rest = sets[0], sets[1:]
        while touching := [each for each in rest if each & reached]:
            rest = [each for each in rest if not each & reached]
            reached = reached.union(*touching)
        return not rest

    def serve_who_lacks_nobody(self) -> bool:
        """Let the next case begin that waited for an opening only, if there is one."""
        if not any(self.place_in_line(each) and not self.lacks_someone(each) for each in self.tokens):
            return False
        found = self.next_served()
        return found is not None and not self.lacks_someone(found[0]) and self.serve_next()

    def serve_next(self) -> bool:
        """Let the next case be served, if there is one."""
        found = self.next_served()
        if found is None:
            return False
        case, takes, victims, kept = found
        for victim in victims:
            self.displace(victim)
        if case.where == "blocked":
            case.called = True
            self.let_in(case)
            return True
        if victims:
            free = self.idle(case.station)
            for team in self.teams:
                free[team] = min(free[team], len(team.idle) - kept[team])
            asked = dict(takes)
            for person in asked.values():
                free[person.team] -= 1
            takes = [*takes, *self.split(self.without(self.lacking(case, case.station), asked), free)]
        case.where = ""
        self.begin(case, takes)
        return True

    # Why a case waits

    def cause(self, case: Case) -> tuple[str, Team | None]:
        """Return what a case's waiting is charged to, and the team that is missing."""
        if case.where == "ripening":
            return "minimum", None
        if case.where != "line":
            return case.cause, None
        station = case.station
        if not self.service.is_open(station.open, self.now):
            return "closed", None
        if self.is_shut(station):
            return "off-shift", None
        asked = self.persons(case, station)
        if not self.are_there(case, station):
            return "person", None
        if asked and not self.without(self.lacking(case, station), asked):
            return "person", None
        free = self.idle(station)
        needs = self.lacking(case, station)
        for turn, (_, teams, _) in enumerate(needs):
            if self.split(needs[: turn + 1], free) is None:
                return self.why(station, needs[: turn + 1], free), teams[0]
        return "busy", self.without(needs, self.persons(case, station))[0][1][0]

    def why(self, station: Station, needs: list[Need], free: dict[Team, int]) -> str:
        """Return why a need is not met: the first absence whose end would meet it, else that all are busy."""
        teams = needs[-1][1]
        if teams[0].kind != "people":
            return "place"
        have = Counter(free)
        for name, away in (("interrupted", ("interrupted",)), ("break", ("break", "unpaid")), ("absent", ("absent",))):
            for team in self.teams:
                have[team] += sum(each.state in away and self.may_serve(each, station) for each in team.members)
            if self.split(needs, have) is not None:
                return name
        for team in self.teams:
            there = sum(each.here and self.may_serve(each, station) for each in team.members)
            absent = sum(each.state == "absent" and self.may_serve(each, station) for each in team.members)
            have[team] += team.peak - there - absent
        return "off-shift" if self.split(needs, have) is not None else "busy"

    def waiting_for(self, row: Row) -> Iterator[Case]:
        """Yield the cases that wait for a row's people in a line where they would be served in overtime."""
        for case in self.tokens:
            station = case.station if case.where == "ripening" else self.place_in_line(case)
            if station is not None and station.overtime != "no":
                persons = self.persons(case, station)
                teams = [
                    each for number, teams, _ in self.lacking(case, station) if number not in persons for each in teams
                ]
                is_one_of_them = any(each.row is row for each in persons.values())
                if all(each.here for each in persons.values()) and (row.team in teams or is_one_of_them):
                    yield case
