"""The way of a case: coming to steps, being served, going on, parting and coming together, leaving."""

from typing import Any

from flowcore.study import minutes
from flowcore.study.calendars import minute_of_day
from flowcore.study.case_types import Categories
from flowcore.study.distributions import mean_of
from flowcore.study.steps import Add
from tests.oracle import luck
from tests.oracle.cases import Case, Party
from tests.oracle.clock import ROSTER, SIGNAL, TIMETABLE, WORK
from tests.oracle.people import Member
from tests.oracle.service import DAY, INSTANT, Station, Way


class Flow:
    """What happens to cases."""

    # Coming to a step

    def enter(self, case: Case) -> None:
        station = case.station
        assert station is not None
        if case.riders and (
            station.kind in ("scatter", "exit")
            or (station.kind == "join" and self.gathered_on_branch(case, station))
            or self.messages_for(station)
        ):
            self.come_apart(case)
            return
        is_limited = station.line is not None and station.line.max is not None
        if is_limited and not case.expected and self.others_first(self.enter, case):
            return
        if is_limited and not case.expected and self.is_shut_out(case, station):
            case.outside, case.goal = True, station
            self.be_blocked(case)
            return
        self.come_to(case)
        kind = station.kind
        if kind == "serve":
            self.ask_for_work(case)
        elif kind == "exit":
            self.leave(case)
        elif kind == "signal":
            self.be_held(case)
        elif kind == "join":
            self.reach_join(case)
        elif kind == "gather":
            self.wait_for_batch(case)
        elif kind == "fork":
            self.fork(case)
        else:
            if kind == "set":
                for each in case.together():
                    self.set_traits(each, station.step.traits, station.step.id)
            (self.first if case.called else self.soon)(self.go_on, case)

    def others_first(self, action: Any, case: Case) -> bool:
        """Let the next of those who wait be served before a case goes on; say whether there was one."""
        self.first(action, case)
        if self.look_at_stays() or self.serve_next():
            self.soon(self.let_in_blocked)
            return True
        self.agenda.popleft()
        return False

    def is_shut_out(self, case: Case, station: Station) -> bool:
        line = station.line
        balks = line.balk_at is not None and self.length(station) >= line.balk_at
        return line.when_full == "block" and not balks and self.is_full(case, station)

    def come_to(self, case: Case) -> None:
        station = case.station
        if station.loop != case.loop:
            case.loop, case.laps = station.loop, 0
        if not station.escort:
            self.note("CAME", case)
            if station.place is not None:
                case.place = station.place
            for member in case.held:
                member.place = station.place or member.place
        if not station.escort and station.kind not in INSTANT:
            case.last_wait = 0.0
        type_ = self.service.types.get(case.type)
        case.priority = (type_.priority if type_ else 0.0) + station.get("priority", 0.0)
        case.joined_at = self.now
        case.visit_cost = case.cost
        case.work_left = None
        for each in case.together():
            each.station, each.place, each.loop, each.laps = station, case.place, case.loop, case.laps
            if station.escort:
                continue
            each.visits[station.step.id] += 1
            if station.kind not in INSTANT and station.kind != "exit":
                each.turned_away = False
            self.start_deadlines(each)
        if not station.escort:
            for each in case.together():
                self.tell(each, station)
        if station.kind != "serve":
            self.meet_deadlines(case)

    def ask_for_work(self, case: Case) -> None:
        station = case.station
        line = station.line
        if case.expected:
            case.expected = False
        elif line is not None and line.balk_at is not None and self.length(station) >= line.balk_at:
            self.give_up(case, line.balks_to, "BALKED")
            return
        elif self.is_full(case, station):
            self.give_up(case, line.full_to, "TURNED_AWAY")
            return
        takes = self.can_take(case) if case.called else None
        case.called = False
        ripens = line is not None and line.min_wait is not None and minutes(line.min_wait) > 0
        if takes is not None:
            self.begin(case, takes)
        elif self.lacking(case, station) or ripens or self.is_shut(station):
            self.wait_in_line(case, at_front=False)
        else:
            self.begin(case, [])

    def can_take(self, case: Case) -> list[tuple[int, Any]] | None:
        """Return whom a case takes that has been called from before a line without places, if all are still there."""
        station = case.station
        asked = self.persons(case, station)
        if self.is_shut(station) or not self.are_there(case, station):
            return None
        free = self.idle(station)
        for person in asked.values():
            free[person.team] -= 1
        found = self.split(self.without(self.lacking(case, station), asked), free)
        return None if found is None else [*asked.items(), *found]

    def give_up(self, case: Case, to: str, why: str) -> None:
        """Send a case that was not served to another step."""
        station = case.station
        self.note(why, case)
        if why == "TURNED_AWAY":
            for each in case.together():
                each.turned_away = True
        self.is_awaited_no_more(case)
        if case.where in ("line", "ripening"):
            self.soon(self.let_in_blocked)
        case.where, case.state = "", "moving"
        self.move_minutes(case)
        self.release(case, "given up")
        loop = station.loop
        case.work_left = None
        case.station = self.at_one_place(case, self.service.at[to])
        if loop != -1 and case.station.loop == loop:
            case.laps += 1
        self.soon(self.enter, case)

    # Work

    def begin(self, case: Case, takes: list[tuple[int, Any]]) -> None:
        """Give a case the members that it takes, and begin when those who walk have come."""
        station = case.station
        step_id = None if station.escort else station.step.id
        needs = station.needs
        for member, number in self.cover(case, station).items():
            kept = member.name, member.keep_until
            self.be_for(member, needs, number)
            member.name, member.keep_until = member.name or kept[0], member.keep_until or kept[1]
        for number, who in takes:
            member = who if isinstance(who, Member) else self.choose_member(case, who)
            member.team.idle.remove(member)
            member.case = case
            member.taken_at = station
            self.be_for(member, needs, number)
            case.held.append(member)
        for member in case.held:
            if member.name is not None:
                for each in case.together():
                    each.known[member.name] = member
        self.works += 1
        case.begun = self.works
        case.where = "served"
        case.state = "waiting"
        if step_id is not None:
            self.meet_deadlines(case)
        for member in case.held[len(case.held) - len(takes) :]:
            team = member.team
            if team.get("walks", False) and not member.away and member.here:
                place = case.place if station.escort else station.place
                self.walk_to(member, self.service.walk(member.place, place))
                member.place = place or member.place
        self.go_on_working(case)

    def be_for(self, member: Member, needs: list[Any], number: int) -> None:
        need = needs[number] if number < len(needs) else None
        member.name = need.as_ or None if need is not None else None
        member.keep_until = need.keep_until if need is not None else None

    def choose_member(self, case: Case, team: Any) -> Member:
        may = [each for each in team.idle if self.may_serve(each, case.station)]
        picks = team.get("picks", "longest-idle")
        if picks == "listed":
            return min(may, key=lambda each: each.number)
        if picks == "least-used":
            self.close_spells()
            return min(may, key=lambda each: (round(each.used * 1e6), each.number))
        if picks == "random":
            element = (
                luck.key("links", self.way_name(case.station))
                if case.station.escort
                else luck.key("steps", case.station.step.id)
            )
            key = luck.of_case(case, element, luck.MEMBER)
            return may[int(luck.uniform(key, team.number) * len(may))]
        return may[0]

    def way_name(self, station: Station) -> str:
        return station.ways[0].name

    def walk_to(self, member: Member, time: float) -> None:
        member.walk_left = 0.0
        if time > 0:
            member.walking = True
            member.walk_event_time = self.now + time
            member.walk_event = self.at(self.now + time, WORK, self.is_there, member)

    def is_there(self, member: Member) -> None:
        member.walking = False
        self.go_on_working(member.case)

    def missing(self, case: Case) -> list[Member]:
        return [each for each in case.held if each.away or not each.here]

    def go_on_working(self, case: Case) -> None:
        """Let the work begin or go on once all are there."""
        if case.where != "served" or self.missing(case) or any(each.walking for each in case.held):
            return
        new = case.work_left is None
        if new:
            case.work_left = self.draw_work(case)
        self.note("BEGAN" if new else "RESUMED", case, None, case.held[-1] if case.held else None)
        case.state = "work"
        pace = min((m.team.made.pace for m in case.held if m.team.kind == "people"), default=1.0)
        case.ends_at = self.now + case.work_left / pace
        case.pace = pace
        case.event = self.at(case.ends_at, WORK, self.work_ends, case)

    def pause_work(self, case: Case) -> None:
        if case.state == "work":
            case.event.off = True
            case.work_left = (case.ends_at - self.now) * case.pace
            case.state = "waiting"
            self.note("PAUSED_WORK", case)

    def hand_back(self, case: Case, why: str) -> None:
        """Put a case back at the head of its line without its members; one that is blocked just lets its people go."""
        if case.where in ("blocked", "done"):
            self.release(case, "blocked")
            return
        if case.state == "work":
            case.event.off = True
            case.work_left = (case.ends_at - self.now) * case.pace
        self.note(why, case)
        case.state = "moving"
        for member in case.held[::-1]:
            if member.walking:
                member.walk_event.off = True
            if member.taken_at is case.station:
                case.held.remove(member)
                member.last_type = case.type
                self.is_free(member)
        self.wait_in_line(case, at_front=True)

    def displace(self, case: Case) -> None:
        self.hand_back(case, "HANDED_BACK")

    def draw_work(self, case: Case) -> float:
        station = case.station
        if station.escort:
            link = station.escort
            if link.travel == "walk":
                return self.service.walk(case.place, station.place)
            key = luck.of_case(case, luck.key("links", self.way_name(station)), luck.WORK)
            return max(0.0, luck.value(link.travel or "0 min", key))
        element = luck.key("steps", station.step.id)
        duration = luck.value(self.work_of(case), luck.of_case(case, element, luck.WORK))
        changeover = station.get("changeover")
        changes = any(m.last_type not in (None, case.type) for m in case.held)
        if changeover is not None and changes:
            duration += luck.value(changeover, luck.of_case(case, element, luck.CHANGEOVER))
        return max(0.0, duration)

    def work_of(self, case: Case) -> Any:
        """Return the distribution of a case's work: by trait, else by type."""
        step = case.station.step
        work = step.time if step.kind == "delay" else step.work
        if not hasattr(work, "by_type"):
            return work
        for trait, by_value in work.by_trait.items():
            if case.traits.get(trait) in by_value:
                return by_value[case.traits[trait]]
        return work.by_type.get(case.type, work.otherwise)

    def mean_work(self, case: Case) -> float:
        if case.station.escort:
            return 0.0
        return mean_of(self.work_of(case))

    def work_ends(self, case: Case) -> None:
        case.state = "moving"
        case.work_left = 0.0
        case.where = "done"
        self.is_awaited_no_more(case)
        self.soon(self.go_on, case)

    # Going on

    def go_on(self, case: Case) -> None:
        """Let a case leave its step, unless the next line is full."""
        if not case.ahead:
            self.choose_ways(case)
        goal = case.goal
        line = goal.line
        if not case.expected and line is not None and line.max is not None and line.when_full == "block":
            if self.is_full(case, goal) and self.others_first(self.go_on, case):
                return
            if self.is_full(case, goal):
                self.be_blocked(case)
                if case.station.get("when_blocked") != "keeps-people":
                    self.release(case, "blocked")
                return
            case.expected = True
        self.go_through(case)

    def choose_ways(self, case: Case) -> None:
        """Choose a case's ways through all that takes no time, if they may lead to a line that blocks."""
        if not self.may_come_to_a_block(case.station):
            way = self.first_taken(case) if case.station.kind == "fork" else self.choose_way(case)
            case.goal = self.at_one_place(case, way.ends)
            case.ahead = [(way, case.goal)]
            return
        kept = case.station, case.laps, case.loop, case.place, case.visits.copy(), dict(case.traits)
        ways = []
        while True:
            way = self.first_taken(case) if case.station.kind == "fork" else self.choose_way(case)
            if way is None:
                break
            to = self.at_one_place(case, way.ends)
            ways.append((way, to))
            case.laps += way.closes
            case.station = to
            if to.kind not in ("choose", "set", "fork"):
                break
            if to.loop != case.loop:
                case.loop, case.laps = to.loop, 0
            case.place = to.place or case.place
            case.visits[to.step.id] += 1
            if to.kind == "set":
                self.set_traits(case, to.step.traits, to.step.id)
        case.station, case.laps, case.loop, case.place, case.visits, case.traits = kept
        case.ahead = ways
        case.goal = ways[-1][1]

    def waited_here(self, case: Case) -> float:
        """Return how long a case has waited in this visit, without being blocked."""
        return sum(spent for account, spent in case.visit.items() if account not in ("work", "travel", "next-line"))

    def may_come_to_a_block(self, station: Station) -> bool:
        """Say whether a line that blocks can be reached through at least one step that takes no time."""
        passages = ("choose", "set", "fork")
        seen: set[Station] = set()
        ahead = [end for way in station.ways for end in way.ends[:1] if end.kind in passages]
        while ahead:
            here = ahead.pop()
            if here in seen:
                continue
            seen.add(here)
            for way in here.ways:
                end = way.ends[0]
                if end.kind in passages:
                    ahead.append(end)
                elif end.line is not None and end.line.max is not None and end.line.when_full == "block":
                    return True
        return False

    def choose_way(self, case: Case) -> Way:
        station = case.station
        ways = station.ways
        if station.escort or len(ways) == 1:
            return ways[0]
        pick = getattr(station.step, "pick", "share")
        if pick == "in-turn":
            turn = self.turns_taken.get(station, 0)
            self.turns_taken[station] = turn + 1
            return ways[turn % len(ways)]
        if pick == "shortest-line":
            return min(ways, key=lambda way: self.how_long(way.ends))
        for way in ways:
            if way.link.when is not None and self.holds(way.link.when, case):
                return way
        draw = luck.uniform(luck.of_case(case, luck.key("steps", station.step.id), luck.WAY))
        return ways[luck.pick(self.shares(station, case.type), draw)]

    def shares(self, station: Station, type_: str) -> list[float]:
        links = [way.link for way in station.ways]
        ruled = any(link.when is not None for link in links)
        open_ = [link for link in links if link.when is None]
        if ruled and any(link.otherwise for link in open_):
            return [float(link.when is None and link.otherwise) for link in links]
        if len(open_) == 1 and open_[0].share is None and not open_[0].share_by_type:
            return [float(link is open_[0]) for link in links]
        return [
            0.0 if link.when is not None else (link.share_by_type or {}).get(type_, link.share or 0.0) for link in links
        ]

    def at_one_place(self, case: Case, ends: list[Station]) -> Station:
        """Return the station that a case picks among the places of a step."""
        if len(ends) == 1:
            return ends[0]
        targets = [self.target(end) for end in ends]
        step = targets[0].step
        if step.pick_place == "share":
            draw = luck.uniform(luck.of_case(case, luck.key("steps", step.id), luck.PLACE))
            return ends[luck.pick([option.share or 0.0 for option in step.places], draw)]
        if step.pick_place == "in-turn":
            turn = self.turns_taken.get(step.id, 0)
            self.turns_taken[step.id] = turn + 1
            return ends[turn % len(ends)]
        if step.pick_place == "nearest":
            best = min(targets, key=lambda each: self.service.walk(case.place, each.place))
        else:
            best = min(targets, key=lambda each: (self.how_many_at(each), self.here_at(each)))
        return ends[targets.index(best)]

    def target(self, station: Station) -> Station:
        """Return where the way of an escort leads, of any other station itself."""
        return station.ways[0].ends[0] if station.escort else station

    def how_many_at(self, station: Station) -> int:
        held = sum(each.where in ("held", "gathering") and each.station is station for each in self.tokens)
        return held + sum(each.where in ("line", "ripening") and each.station is station for each in self.tokens)

    def here_at(self, station: Station) -> int:
        places = ("line", "ripening", "held", "gathering", "joining", "served", "done", "blocked")
        return sum(each.station is station and each.where in places for each in self.tokens if self.is_at_step(each))

    def is_at_step(self, case: Case) -> bool:
        """Say whether a case is at its step, not blocked before it or between two."""
        is_between = case.outside or case.visit_over or case.station is None or case.station.kind in INSTANT
        return not (case.where == "blocked" and is_between)

    def how_long(self, ends: list[Station]) -> tuple[int, int]:
        targets = [self.target(end) for end in ends]
        return self.waiting_at(targets), sum(self.here_at(each) for each in targets)

    def waiting_at(self, targets: list[Station]) -> int:
        rooms = {station for each in targets for station in (self.room_of(each) if each.line is not None else [each])}
        return sum(self.how_many_at(each) for each in rooms)

    def go_through(self, case: Case) -> None:
        if case.visit_over:
            case.visit_over = False
        elif case.station.kind not in INSTANT:
            self.end_visit(case)
        else:
            self.raise_signals(case.station)
        self.follow(case)

    def end_visit(self, case: Case) -> None:
        station = case.station
        case.state, case.where = "moving", ""
        self.note("ENDED_WORK", case, None, case.held[-1] if case.held else None)
        for member in case.held:
            member.place = (station.place if station.escort else None) or member.place
        self.release(case, "done")
        self.write_visit(case)
        self.raise_signals(station)

    def raise_signals(self, station: Station) -> None:
        if not station.escort:
            for cleared in self.service.stations:
                if (
                    cleared.kind == "signal"
                    and cleared.step.clears is not None
                    and cleared.step.clears.after_step == station.step.id
                ):
                    self.signal(cleared)

    def follow(self, case: Case) -> None:
        way, to = case.ahead.pop(0)
        travel = 0.0
        if not case.station.escort and way.link.escort is None:
            if way.link.travel == "walk":
                travel = self.service.walk(case.place, to.place)
            elif way.link.travel is not None:
                key = luck.of_case(case, luck.key("links", way.name), luck.TRAVEL)
                travel = max(0.0, luck.value(way.link.travel, key))
        case.laps += way.closes
        case.station = to
        case.visit_travel = 0.0
        if travel <= 0:
            (self.first if case.called else self.soon)(self.enter, case)
            return
        self.note("SET_OUT", case)
        case.state = "travel"
        self.at(self.now + travel, WORK, self.arrive_at_step, case)

    def arrive_at_step(self, case: Case) -> None:
        case.state = "moving"
        self.soon(self.enter, case)

    # Blocked

    def be_blocked(self, case: Case) -> None:
        if not case.outside:
            self.note("WAS_BLOCKED", case)
        case.state, case.where = "stuck", "blocked"
        self.turns += 1
        case.turn = self.turns

    def let_in_blocked(self) -> bool:
        """Let the first of those go on who are blocked before a line that has room."""
        for case in sorted((each for each in self.tokens if each.where == "blocked"), key=lambda each: each.turn):
            if self.length(case.goal) + self.coming(case.goal) < case.goal.line.max:
                self.let_in(case)
                return True
        return False

    def let_in(self, case: Case) -> None:
        case.where, case.state, case.expected = "", "moving", True
        if case.outside:
            case.outside = False
            case.ahead = []
            case.station = case.goal
            self.first(self.enter, case)
        else:
            self.first(self.go_through, case)

    # Signals

    def be_held(self, case: Case) -> None:
        station = case.station
        clears = station.step.clears
        if clears is None and self.service.is_open(station.step.open, self.now):
            case.where = "done"
            self.soon(self.go_on, case)
            return
        about = self.concerned(case) if self.messages_for(station) else None
        kept = [each for each in self.messages_for(station) if about and about.letters[station.step.id, each]]
        if about is not None and kept:
            about.letters[station.step.id, kept[0]] -= 1
            case.heard = kept[0]
            case.where = "done"
            self.soon(self.go_on, case)
            return
        case.where, case.state, case.cause = "held", "waiting", "signal"
        self.turns += 1
        case.turn = self.turns
        self.note("WAS_HELD", case)
        if clears is not None and clears.waiting is not None and len(self.held_at(station)) >= clears.waiting:
            self.signal(station)

    def held_at(self, station: Station) -> list[Case]:
        return sorted(
            (each for each in self.tokens if each.where == "held" and each.station is station),
            key=lambda each: each.turn,
        )

    def signal(self, station: Station) -> None:
        """Let those go who are held: all, or so many."""
        if not self.service.is_open(station.step.open, self.now):
            return
        waiting = self.held_at(station)
        self.first(self.let_go, station, min(len(waiting), station.step.lets_go or len(waiting)))

    def let_go(self, station: Station, many: int) -> None:
        for case in self.held_at(station)[:many]:
            case.where, case.state = "done", "moving"
            self.soon(self.go_on, case)

    def messages_for(self, station: Station) -> list[str]:
        """Return at which steps the message is told that a signal waits for."""
        clears = station.step.clears if station.kind == "signal" else None
        return clears.messages if clears is not None else []

    def concerned(self, token: Case) -> Case | None:
        """Return the case that a token's messages concern, if it is still here."""
        while token is not None and token.kind == "branch":
            token = token.party.owner
        about = token.sender if token.kind == "errand" and not token.gone else token
        return None if about.gone else about

    def tell(self, token: Case, station: Station) -> None:
        """Let the first who waits for it go on, of those of the same case, or keep the message."""
        about = self.concerned(token)
        told: set[str] = set()
        for other in self.service.stations:
            signal = other.step.id
            if about is None or signal in told or station.step.id not in self.messages_for(other):
                continue
            told.add(signal)
            held = [each for each in self.tokens if each.where == "held" and each.station.step.id == signal]
            waiting = sorted((each for each in held if self.concerned(each) is about), key=lambda each: each.turn)
            if not waiting:
                about.letters[signal, station.step.id] += 1
                continue
            waiting[0].heard = station.step.id
            waiting[0].where, waiting[0].state = "done", "moving"
            self.soon(self.go_on, waiting[0])

    def schedule_signals(self) -> None:
        opening: dict[float, list[Station]] = {}
        for station in self.service.stations:
            if station.kind != "signal":
                continue
            clears = station.step.clears
            if clears is None:
                for begin, _ in self.service.open.get(station.step.open, []):
                    opening.setdefault(max(0.0, begin), []).append(station)
            elif clears.every is not None:
                first = minutes(clears.every if clears.first is None else clears.first)
                self.at(first, SIGNAL, self.signal_again, station, minutes(clears.every))
            for time in clears.at if clears is not None else []:
                at = (minute_of_day(time) - self.service.minute_of_day(0.0)) % DAY
                while at <= self.service.length:
                    self.at(at, TIMETABLE, self.signal, station)
                    at += DAY
        for time, stations in opening.items():
            self.at(time, ROSTER, self.open_all, stations)

    def open_all(self, stations: list[Station]) -> None:
        """Let those go who are held where it opens at one time."""
        for station in stations:
            waiting = self.held_at(station)
            self.soon(self.let_go, station, min(len(waiting), station.step.lets_go or len(waiting)))

    def signal_again(self, station: Station, every: float) -> None:
        self.signal(station)
        self.at(self.now + every, SIGNAL, self.signal_again, station, every)

    # Parting and coming together

    def first_taken(self, case: Case) -> Way | None:
        return next((way for way in case.station.ways if self.is_taken(case, way)), None)

    def is_taken(self, case: Case, way: Way) -> bool:
        chance = 1.0 if way.link.chance is None else way.link.chance
        return chance >= 1 or luck.uniform(luck.of_case(case, luck.key("links", way.name), luck.WAY)) < chance

    def fork(self, case: Case) -> None:
        """Send the case itself along the first way that it takes, and a branch along each other."""
        station = case.station
        taken = [way for way in station.ways if self.is_taken(case, way)]
        party = Party(case, station.step.join, gathered=len(case.riders))
        if taken:
            if not case.ahead:
                self.choose_ways(case)
            self.soon(self.go_on, case)
        for way in taken[1:]:
            key = luck.of_case(case, luck.key("links", way.name), luck.WAY)
            branch = self.companion(case, luck.chain(key, 1), "branch")
            branch.station = station
            branch.party = party
            party.outstanding += 1
            to = self.at_one_place(branch, way.ends)
            branch.ahead, branch.goal = [(way, to)], to
            self.soon(self.go_on, branch)
        if party.outstanding or case.riders:
            case.owns.append(party)
        if not taken:
            case.ahead = []
            case.station = self.at_one_place(case, self.service.at[station.step.join])
            self.soon(self.enter, case)

    def companion(self, case: Case, fortune: Any, kind: str) -> Case:
        """Return a branch or an errand of a case."""
        other = Case(case.number, fortune, case.stream, case.type, case.arrived_at, case.priority, case.due, kind)
        other.place, other.laps, other.loop = case.place, case.laps, case.loop
        other.traits, other.visits, other.known = dict(case.traits), case.visits.copy(), dict(case.known)
        self.tokens.append(other)
        return other

    def reach_join(self, case: Case) -> None:
        here = case.station.step.id
        case.where, case.state = "", "moving"
        while (party := self.own_here(case)) is not None and not party.outstanding:
            case.owns.remove(party)
            for each in case.together():
                each.cost += party.cost / len(case.together())
        if party is not None:
            case.where, case.state, case.cause = "joining", "waiting", "branches"
        elif case.party is not None and case.party.join == here:
            self.end_branch(case)
        else:
            case.where = "done"
            self.soon(self.go_on, case)

    def end_branch(self, branch: Case) -> None:
        party = branch.party
        self.release(branch, "gone")
        if branch.station.kind == "join":
            self.write_visit(branch)
        self.tokens.remove(branch)
        party.cost += branch.cost
        party.outstanding -= 1
        owner = party.owner
        if not party.outstanding and owner.where == "joining" and owner.station.step.id == party.join:
            self.reach_join(owner)

    def own_here(self, case: Case) -> Party | None:
        """Return the innermost of a case's own forks that ends where it is."""
        here = case.station.step.id
        return next((each for each in reversed(case.owns) if each.join == here), None)

    def gathered_on_branch(self, case: Case, station: Station) -> bool:
        """Say whether a batch was gathered on a branch that ends at this join."""
        party = self.own_here(case)
        return party is None or party.gathered < len(case.riders)

    def wait_for_batch(self, case: Case) -> None:
        station = case.station
        case.where, case.state, case.cause = "gathering", "waiting", "batch"
        self.turns += 1
        case.turn = self.turns
        waiting = self.gathering_at(station)
        if len(waiting) >= station.step.count:
            self.form_batch(station, waiting[: station.step.count])
        elif station.step.or_after is not None:
            self.at(self.now + minutes(station.step.or_after), SIGNAL, self.batch_due, case, case.token)

    def gathering_at(self, station: Station) -> list[Case]:
        return sorted((e for e in self.tokens if e.where == "gathering" and e.station is station), key=lambda e: e.turn)

    def batch_due(self, first: Case, token: int) -> None:
        if first.where == "gathering" and first.token == token:
            self.form_batch(first.station, self.gathering_at(first.station))

    def form_batch(self, station: Station, cases: list[Case]) -> None:
        leader, *others = cases
        for case in cases:
            case.token += 1
            self.note("GATHERED", case)
            self.end_visit(case)
        leader.visit_over = True
        for case in others:
            self.tokens.remove(case)
        if others or leader.riders:
            leader.riders.append(others)
        self.soon(self.go_on, leader)

    def come_apart(self, case: Case) -> None:
        """Undo the last gathering of a case."""
        station = case.station
        if station.kind == "scatter":
            self.come_to(case)
        others = case.riders.pop()
        for other in others:
            self.tokens.append(other)
            other.station, other.place, other.laps, other.loop = station, case.place, case.laps, case.loop
            other.state, other.where = "moving", ""
        for each in [case, *others]:
            self.soon(self.go_on if station.kind == "scatter" else self.enter, each)

    # Leaving

    def release(self, case: Case, why: str) -> None:
        """Let go of a case's members, but of those whom it keeps."""
        station = case.station
        for member in case.held[::-1]:
            keeps = member.keep_until is not None
            if (
                why in ("done", "blocked")
                and keeps
                and not (member.keep_until == station.step.id and not station.escort)
            ):
                continue
            if why == "blocked" and member.team.kind != "people":
                continue
            if why == "given up" and keeps and member.keep_until != station.step.id:
                continue
            case.held.remove(member)
            member.last_type = case.type
            self.is_done(member)

    def is_done(self, member: Member) -> None:
        self.count_case(member)
        self.is_free(member)

    def leave(self, case: Case) -> None:
        """Let a token leave by an exit."""
        if case.kind == "branch" and case.party is not None:
            self.end_branch(case)
            return
        self.release(case, "gone")
        for each in case.together():
            each.gone = True
            self.end_deadlines(each)
        self.tokens.remove(case)
        if case.kind == "case":
            for each in case.together():
                self.depart(each, case)

    # Traits and rules

    def set_traits(self, case: Case, values: dict[str, Any], at: str) -> None:
        for name, given in values.items():
            element = luck.key("traits", f"{at}/{name}" if at else name)
            key = luck.of_case(case, element, luck.TRAIT)
            trait = self.service.traits[name]
            if isinstance(given, Add):
                case.traits[name] = case.traits.get(name, 0.0) + given.add
            elif isinstance(given, Categories):
                shares = [given.shares.get(each, 0.0) for each in trait.values]
                case.traits[name] = trait.values[luck.pick(shares, luck.uniform(key))]
            elif isinstance(given, str | int | float):
                case.traits[name] = given
            else:
                case.traits[name] = luck.value(given, key)

    def holds(self, rule: Any, case: Case) -> bool:
        if hasattr(rule, "fact"):
            return self.is_true(rule, case)
        each = [self.holds(clause, case) for clause in rule.clauses]
        return all(each) if rule.all else any(each)

    def is_true(self, condition: Any, case: Case) -> bool:
        fact = self.fact(condition.kind, condition.about, case)
        wanted = condition.value
        if condition.is_ == "in":
            return fact in [self.as_fact(condition.kind, each) for each in wanted]
        wanted = self.as_fact(condition.kind, wanted)
        return {
            "equal": lambda: fact == wanted,
            "not": lambda: fact != wanted,
            "under": lambda: fact < wanted,
            "at-most": lambda: fact <= wanted,
            "over": lambda: fact > wanted,
            "at-least": lambda: fact >= wanted,
        }[condition.is_]()

    def as_fact(self, kind: str, value: Any) -> Any:
        if not isinstance(value, str):
            return value
        if kind == "time-of-day":
            return float(minute_of_day(value))
        if kind in ("in-system", "waited-here", "waited"):
            return minutes(value)
        return value

    def fact(self, kind: str, about: str, case: Case) -> Any:
        if kind == "type":
            return case.type
        if kind == "trait":
            return case.traits.get(about, 0.0)
        if kind == "in-system":
            return self.now - case.arrived_at
        if kind == "waited-here":
            return case.last_wait + self.waited_here(case)
        if kind == "waited":
            return sum(v for k, v in case.minutes.items() if k not in ("work", "travel", "next-line"))
        if kind == "visits":
            return case.visits[about]
        if kind == "message":
            return case.heard
        if kind == "line":
            return self.waiting_at(self.service.at[about])
        if kind == "free":
            return len(self.team[about].idle)
        if kind == "time-of-day":
            return self.service.minute_of_day(self.now)
        return self.service.weekday(self.now)

    # Deadlines

    def case_of(self, token: Case) -> Case | None:
        """Return the case for which a token passes a point: itself, or the one whose branch it is and that is here."""
        while token.kind == "branch":
            token = token.party.owner
        return None if token.gone or token.kind == "errand" else token

    def start_deadlines(self, token: Case) -> None:
        at, case = token.station.step.id, self.case_of(token)
        if case is None:
            return
        for deadline in self.study.deadlines:
            if deadline.from_ != at:
                continue
            for timer in case.timers:
                if timer["deadline"] is deadline:
                    self.end_timer(case, timer)
                    break
            timer = {"deadline": deadline, "missed": 0}
            case.timers.append(timer)
            self.deadlines[deadline.id]["started"] += 1
            timer["event"] = self.at(self.now + minutes(deadline.within), SIGNAL, self.deadline_due, case, timer)

    def end_timer(self, case: Case, timer: Any) -> None:
        timer["event"].off = True
        case.timers.remove(timer)
        if not timer["missed"]:
            self.deadlines[timer["deadline"].id]["left"] += 1

    def end_deadlines(self, case: Case) -> None:
        for timer in list(case.timers):
            self.end_timer(case, timer)

    def meet_deadlines(self, case: Case) -> None:
        for token in case.together():
            each = self.case_of(token)
            for timer in list(each.timers) if each is not None else []:
                if timer["deadline"].to == case.station.step.id:
                    timer["event"].off = True
                    each.timers.remove(timer)
                    if not timer["missed"]:
                        self.deadlines[timer["deadline"].id]["met"] += 1

    def deadline_due(self, case: Case, timer: Any) -> None:
        deadline = timer["deadline"]
        if not timer["missed"]:
            self.deadlines[deadline.id]["missed"] += 1
        timer["missed"] += 1
        then = deadline.then
        if then.send is not None:
            fortune = luck.chain(
                luck.chain(case.luck, int(luck.key("deadlines", deadline.id))), case.laps << 32 | timer["missed"]
            )
            self.note("SENT", case)
            errand = self.companion(case, fortune, "errand")
            errand.sender = case
            errand.station = self.at_one_place(errand, self.service.at[then.send])
            self.soon(self.enter, errand)
            if then.every is not None:
                timer["event"] = self.at(self.now + minutes(then.every), SIGNAL, self.deadline_due, case, timer)
        elif case in self.tokens and case.where in ("line", "ripening", "held", "gathering") and not case.riders:
            self.give_up(case, then.divert, "DIVERTED")
