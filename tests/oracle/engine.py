"""A second engine: slow, in plain Python, written from what the engine's page says."""

from collections import Counter
from dataclasses import dataclass
from typing import Any

import numpy as np

from flowcore.study import StudyDocument, minutes
from tests.oracle import luck
from tests.oracle.cases import Case
from tests.oracle.clock import ROSTER, Clock
from tests.oracle.flow import Flow
from tests.oracle.people import Member, People
from tests.oracle.service import Service
from tests.oracle.streams import Streams
from tests.oracle.waiting import Waiting

ENDLESS = 3_000


class GoesRound(Exception):
    """Raised where things go on for ever at one instant."""


@dataclass
class Note:
    """One line of the log."""

    at: float
    kind: str
    case: int
    step: int
    member: int


class Oracle(Clock, Streams, Flow, Waiting, People):
    """One replication of a study."""

    def __init__(self, study: StudyDocument, plan: Any, replication: int = 0) -> None:
        super().__init__()
        self.study = study
        self.service = Service(study, plan)
        self.seed = luck.chain(np.uint64(0), study.run.seed, replication)
        self.tokens: list[Case] = []
        self.numbers = self.inside = self.turns = self.works = self.completed = 0
        self.turns_taken: dict[Any, int] = {}
        self.known_needs: dict[Any, list[Any]] = {}
        self.causes_now: dict[Any, Any] = {}
        self.notes: list[Note] = []
        self.visits: list[dict[str, Any]] = []
        self.departures: list[dict[str, Any]] = []
        self.causes: Counter[tuple[str, str, str]] = Counter()
        self.deadlines = {each.id: Counter() for each in study.deadlines}

    def note(self, kind: str, case: Case | None, step: Any = None, member: Member | None = None) -> None:
        number = -1
        if case is not None and case.station is not None and kind != "ARRIVED":
            number = case.station.number
        self.notes.append(
            Note(self.now, kind, case.number if case else 0, number, -1 if member is None else member.number)
        )

    # The run

    def run(self) -> None:
        """Go on to the end of the run."""
        self.hire()
        self.schedule_signals()
        self.schedule_openings()
        self.open_streams()
        warm_up = minutes(self.study.run.warm_up)
        length = self.service.length
        if warm_up:
            self.go_to(warm_up)
            self.start_afresh()
        self.go_to(length)

    def go_to(self, until: float) -> None:
        while True:
            self.settle()
            if self.is_over():
                return
            found = self.next_event()
            struck = self.working_clocks_due()
            if min(struck, found[0] if found else struck) > until:
                break
            if found is None or struck < found[0] - 1e-9 or (struck <= found[0] + 1e-9 and self.events[0][1] > ROSTER):
                self.pass_time(struck)
                wear = min((w for w in self.wear if w.measure == "working"), key=self.wear_left)
                self.interruption_due(wear)
            else:
                self.pass_time(found[0])
                self.take_event().action()
        if not self.is_over():
            self.pass_time(until)

    def is_over(self) -> bool:
        until = self.study.run.until
        if until is None:
            return False
        if until.completed is not None:
            return self.completed >= until.completed
        if self.inside:
            return False
        return all(source.over for source in self.sources) or self.have_doors_closed()

    def have_doors_closed(self) -> bool:
        doors = self.study.run.doors
        if doors is None or self.doors_open():
            return False
        return any(end <= self.now for _, end in self.service.open[doors])

    def settle(self) -> None:
        """Do all that follows at this instant: first all movement, then the choice among those who wait."""
        done = 0
        while True:
            done += 1
            if done > ENDLESS:
                raise GoesRound
            if self.agenda:
                self.agenda.popleft()()
            elif self.roster_goes_on():
                self.take_event().action()
            elif not (
                self.look_at_stays() or self.serve_who_lacks_nobody() or self.let_in_blocked() or self.serve_next()
            ):
                return

    def roster_goes_on(self) -> bool:
        found = self.next_event()
        return found is not None and found[0] <= self.now and self.events[0][1] == ROSTER

    def schedule_openings(self) -> None:
        """Look again whenever something opens or shuts."""
        for periods in self.service.open.values():
            for begin, end in periods:
                self.at(max(0.0, begin), ROSTER, lambda: None)
                self.at(end, ROSTER, lambda: None)

    # Accounts

    def pass_time(self, until: float) -> None:
        """Book the minutes until a time on every case and every member."""
        spent = until - self.now
        if spent > 0:
            self.causes_now.clear()
            for case in self.tokens:
                self.charge(case, spent)
            self.close_spells()
            for wear in self.wear:
                if wear.measure == "working":
                    wear.left = max(0.0, wear.left - spent * self.wear_speed(wear))
            for member in self.members:
                member.time[member.state, member.overtime] += spent
        self.now = max(self.now, until)

    def close_spells(self) -> None:
        """Add up how long each member worked, a spell on one case after another."""
        for member in self.members:
            case = member.case if member.state in ("working", "walking") else None
            if member.spell is not None and member.spell[0] is not case:
                member.used += self.now - member.spell[1]
                member.spell = None
            if case is not None and member.spell is None:
                member.spell = (case, self.now)

    def charge(self, case: Case, spent: float) -> None:
        account, team = self.account(case)
        everyone = case.together()
        if team is not None:
            self.causes["team", team.id, account] += spent * len(everyone)
        for each in everyone:
            each.minutes[account] += spent
            each.visit[account] += spent
        if case.state == "travel":
            case.visit_travel += spent
        for holder in everyone:
            sharing = holder.together()
            for member in holder.held:
                if not member.away and member.here:
                    team = member.team
                    rate = team.get("rate", 0.0) * (team.get("overtime", 1.0) if member.overtime else 1.0)
                    for each in sharing:
                        each.cost += rate * spent / 60 / len(sharing)

    def account(self, case: Case) -> tuple[str, Any]:
        """Return what a case's minutes are booked on now."""
        if case.state == "work":
            return ("travel" if case.station.escort else "work"), None
        if case.state == "travel":
            return "travel", None
        if case.state == "stuck":
            return "next-line", None
        if case.where == "served":
            away = self.missing(case)
            if away:
                return {"unpaid": "break", "off": "off-shift"}.get(away[0].state, away[0].state), None
            return "busy", None
        if case.where != "line" or case.held or case.known:
            return self.cause(case)
        if case.station not in self.causes_now:
            self.causes_now[case.station] = self.cause(case)
        return self.causes_now[case.station]

    def write_visit(self, case: Case) -> None:
        step = case.station
        waits = {k: v for k, v in case.visit.items() if k not in ("work", "travel")}
        waited = self.waited_here(case)
        worked = case.visit["work"]
        case.last_wait += waited
        for each in case.together():
            each.last_wait = case.last_wait
            if not step.escort:
                self.visits.append(
                    {
                        "step": step.number,
                        "type": each.type,
                        "joined_at": case.joined_at,
                        "wait": waited,
                        "blocked": waits.get("next-line", 0.0),
                        "work": worked,
                        "travel": case.visit_travel,
                        "cost": (case.cost - case.visit_cost),
                    }
                )
            for account, spent in waits.items():
                self.causes["step", step.step.id, account] += spent
            each.visit = Counter()

    def move_minutes(self, case: Case) -> None:
        """Leave a step without having been served: its waiting is of the step, and no visit is written."""
        case.last_wait += self.waited_here(case)
        for account, spent in case.visit.items():
            if account not in ("work", "travel"):
                self.causes["step", case.station.step.id, account] += spent * len(case.together())
        for each in case.together():
            each.visit = Counter()

    def depart(self, case: Case, leader: Case) -> None:
        self.inside -= 1
        exit_ = leader.station.step
        self.note("DEPARTED", case)
        if not exit_.abandoned and not case.turned_away:
            self.completed += 1
        waits = {k: v for k, v in case.minutes.items() if k not in ("work", "travel")}
        self.departures.append(
            {
                "case": case.number,
                "step": leader.station.number,
                "type": case.type,
                "left_at": self.now,
                "wait": sum(v for k, v in waits.items() if k != "next-line"),
                "blocked": waits.get("next-line", 0.0),
                "work": case.minutes["work"],
                "travel": case.minutes["travel"],
                "total": self.now - case.arrived_at,
                "cost": case.cost,
                "minutes": dict(case.minutes),
            }
        )
        for account, spent in waits.items():
            self.causes["type", case.type, account] += spent

    def is_awaited_no_more(self, case: Case) -> None:
        """Let nobody stay any longer for a case that is done or gone."""
        for row in self.rows:
            if case in row.awaited:
                row.awaited.remove(case)

    def start_afresh(self) -> None:
        self.visits, self.departures = [], []
        self.causes.clear()
        for deadline, counts in self.deadlines.items():
            counts.clear()
            counts["started"] = sum(
                timer["deadline"].id == deadline and not timer["missed"]
                for token in self.tokens
                for each in token.together()
                for timer in each.timers
            )
        for member in self.members:
            member.time.clear()
