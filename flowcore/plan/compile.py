"""The study as a plan: ids become indices, units minutes, rosters timelines, rules byte code."""

from datetime import datetime
from itertools import accumulate

import numpy as np

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records import plan as p
from flowcore.kernel.records.ledger import Sections, sections_of
from flowcore.kernel.records.record import layout, row, table
from flowcore.kernel.records.world import Plan, Run
from flowcore.kernel.run.worlds import MOST_SERIES_CELLS, series_rows
from flowcore.plan.ahead import Ahead
from flowcore.plan.checkpoints import Checkpoints
from flowcore.plan.keys import link_names, stable_key
from flowcore.plan.layout import Layout, PlannedStep
from flowcore.plan.lines import LineCompiler
from flowcore.plan.loops import find_loops
from flowcore.plan.measures import MeasureCompiler
from flowcore.plan.messages import Messages
from flowcore.plan.needs import NeedCompiler
from flowcore.plan.plain import plain_steps
from flowcore.plan.rules import RuleCompiler
from flowcore.plan.site import walking_minutes
from flowcore.plan.store import Store
from flowcore.plan.streams import StreamCompiler, TraitStarts, type_records
from flowcore.plan.teams import CalendarTable, Entry, TeamCompiler, openings, timeline_records, timetable
from flowcore.study import StudyDocument, minutes
from flowcore.study.graph import line_ways, links_of, picks_by_line, shares_of
from flowcore.study.needs import all_needs
from flowcore.study.rules import conditions_of
from flowcore.study.steps import (
    Choose,
    Delay,
    Exit,
    Fork,
    Gather,
    Link,
    Serve,
    SetTraits,
    Signal,
    Step,
    Work,
    WorkByType,
)

_KIND = {
    "serve": c.StepKind.SERVE,
    "delay": c.StepKind.SERVE,
    "signal": c.StepKind.SIGNAL,
    "choose": c.StepKind.CHOOSE,
    "fork": c.StepKind.FORK,
    "join": c.StepKind.JOIN,
    "gather": c.StepKind.GATHER,
    "scatter": c.StepKind.SCATTER,
    "set": c.StepKind.SET,
    "exit": c.StepKind.EXIT,
}
_PLACE_PICK = {
    "shortest-line": c.PlacePick.LINE,
    "nearest": c.PlacePick.NEAREST,
    "share": c.PlacePick.SHARE,
    "in-turn": c.PlacePick.IN_TURN,
}
_VALUE = {"adds": c.ValueClass.ADDS, "necessary": c.ValueClass.NECESSARY, "waste": c.ValueClass.WASTE}
_SPARE = 24
_MOST_TURNS = 24
_THINGS_A_TURN = 3
"""An event, an arrival by it, and a case that enters a step."""
_MOST_MARGIN = 4096


def compile_study(study: StudyDocument) -> Plan:
    """Return the plan of a study that has passed the health checks."""
    return _StudyCompiler(study).plan()


class _StudyCompiler:
    """Signals what the parts of a plan have to know of each other."""

    def __init__(self, study: StudyDocument) -> None:
        self.study = study
        self.length = minutes(study.run.length)
        self.start = datetime.fromisoformat(study.start)
        self.store = Store()
        self.layout = Layout(study)
        self.types = [kind.id for kind in study.case_types] or [""]
        self.places = {place.id: number for number, place in enumerate(study.site.places)}
        self.rooms = self._rooms()
        self.teams = {team.id: number for number, team in enumerate(study.teams)}
        self.calendars = CalendarTable(study, self.store, self.length)
        self.staff = TeamCompiler(study, self.rooms, self.places, self.store, self.length)
        self.counters = self._counters()
        names = dict.fromkeys(need.same_as for need in all_needs(study) if need.same_as)
        self.slots = {name: number for number, name in enumerate(names)}
        self.needs = NeedCompiler(study, self.layout, self.store, self.teams, self.rooms, self.slots)
        self.lines = LineCompiler(study, self.layout, self.store)
        self.starts = TraitStarts(study.traits, self.store)
        self.traits = {trait.id: number for number, trait in enumerate(study.traits)}
        self.messages = Messages(study, self.store)
        self.rules = RuleCompiler(
            self.store,
            {kind: number for number, kind in enumerate(self.types)},
            self.traits,
            {trait.id: trait.values for trait in study.traits},
            self.layout.first,
            self.teams,
            self.counters,
            self.messages.tellers,
        )
        self.measures = MeasureCompiler(study, self.layout, self.store, self.rules)
        self.checkpoints = Checkpoints(study, self.layout, self.store)
        self.links: list[tuple[object, ...]] = []
        self.timeline: list[Entry] = list(self.staff.timeline)
        self.ahead = Ahead(self.layout)

    def _rooms(self) -> dict[str, int]:
        """Return the places whose capacity matters, each with the number of its team of room."""
        used = {planned.place for planned in self.layout.steps}
        limited = [place.id for place in self.study.site.places if place.capacity and place.id in used]
        return {place: len(self.study.teams) + number for number, place in enumerate(limited)}

    def _counters(self) -> dict[str, int]:
        rules = [link.when for step in self.study.steps for link in links_of(step) if link.when]
        conditions = [each for rule in rules for each in conditions_of(rule)]
        conditions += [each for measure in self.study.measures for each in measure.conditions]
        asked = [each.about for each in conditions if each.kind == "visits"]
        return {step: number for number, step in enumerate(dict.fromkeys(asked))}

    def plan(self) -> Plan:
        """Return the plan."""
        loops, closes = self._loops()
        steps = [
            self._step(number, planned, loops[number], closes[number])
            for number, planned in enumerate(self.layout.steps)
        ]
        types = type_records(self.study, self.starts)
        streams = StreamCompiler(self.study, self.layout.first, self.calendars.numbers, self.store, self.starts)
        stream_records = streams.records()
        self._plan_openings()
        plan = Plan(
            run=table(Run, [self._run()]),
            sections=table(Sections, [self._sections()]),
            distributions=self.store.distributions(),
            streams=stream_records,
            starts=table(p.Start, self.starts.rows),
            sessions=table(p.Session, streams.sessions),
            dates=table(p.Date, streams.dates),
            types=types,
            steps=table(p.Step, steps),
            links=table(p.Link, self.links),
            tests=table(p.Test, self.rules.tests),
            needs=table(p.Need, self.needs.rows),
            conditions=table(p.Condition, self.needs.conditions),
            pools=table(p.Pool, self.needs.pools),
            lines=self.lines.records(),
            teams=table(p.Team, self.staff.teams),
            rows=table(p.RosterRow, self.staff.rows),
            breaks=table(p.BreakPlan, self.staff.breaks),
            interruptions=table(p.Interruption, self.staff.interruptions),
            timeline=timeline_records(self.timeline),
            calendars=self.calendars.records(),
            deadlines=self.checkpoints.deadlines(),
            span_points=table(p.SpanPoint, self.checkpoints.points),
            measures=table(p.Measure, self.measures.rows),
            lists=np.array(self.store.lists, np.int64),
            numbers=np.array(self.store.numbers, np.float64),
        )
        plan.steps.is_plain[:] = plain_steps(plan)
        most = self._most_records(plan)
        plan.run.checks_every[0] = min(_MOST_TURNS, max(1, _MOST_MARGIN // most))
        plan.run.margin[0] = plan.run.checks_every[0] * most
        plan.run.by_week[0] = int(plan.sections.series[0]) * series_rows(plan) > MOST_SERIES_CELLS
        return plan

    def _loops(self) -> tuple[list[int], list[list[bool]]]:
        """Return each step's loop and which ways close one; ways by which a case is sent aside are parts of loops."""
        numbers = range(len(self.layout.steps))
        ways = [[to for _, to in self.layout.links(number)] for number in numbers]
        aside = [self._aside(self.layout.steps[number]) for number in numbers]
        loops, closes = find_loops([[*ways[number], *aside[number]] for number in numbers])
        return loops, [closes[number][: len(ways[number])] for number in numbers]

    def _aside(self, planned: PlannedStep) -> list[int]:
        """Return the steps of the plan to which a case may be sent from a step otherwise than along its ways."""
        if planned.escort is not None:
            return []
        diverts = [each.then.divert for each in self.study.deadlines if each.then.divert is not None]
        waits_here = not isinstance(planned.step, Exit | Choose | Fork | SetTraits)
        join = [planned.step.join] if isinstance(planned.step, Fork) else []
        targets = [to for _, to in line_ways(planned.step)] + join + (diverts if waits_here else [])
        return [copy for to in targets for copy in self.layout.copies[to]]

    def _step(self, number: int, planned: PlannedStep, loop: int, closes: list[bool]) -> tuple[object, ...]:
        """Return the fields of STEP in their order, and enter all that hangs on the step."""
        step = planned.step
        links = self.layout.links(number)
        fields: dict[str, object] = dict.fromkeys(layout(p.Step).names or (), k.NONE)
        fields |= dict.fromkeys(
            ("coverable", "needs", "travel_kind", "keeps_people", "abandoned", "changeover_cost"), 0
        )
        fields |= dict.fromkeys(("lets_go", "quorum", "raised", "told", "starts", "begun", "met", "trait_times"), 0)
        fields |= {
            "priority": 0.0,
            "cost": 0.0,
            "penalty": 0.0,
            "every": 0.0,
            "clears_first": 0.0,
            "first_raised": 0,
            "first_met": 0,
        }
        fields |= {
            "key": stable_key("steps", step.id),
            "kind": _KIND[step.kind],
            "document": planned.document,
            "first_link": len(self.links),
            "links": len(links),
            "shares": self._shares(planned),
            "pick": self._pick(planned),
            "loop": loop,
            "place": k.NONE if planned.place is None else self.places[planned.place],
            "places": len(self.layout.places_of(number)),
            "first_place": self.store.put(self.layout.places_of(number)),
            "looks_ahead": number in self.ahead.looking,
            "place_pick": _PLACE_PICK[step.pick_place],
            "place_shares": self.store.put_numbers(accumulate(option.share or 0.0 for option in step.places)),
            "visit_counter": self.counters.get(step.id, k.NONE) if planned.escort is None else k.NONE,
        }
        self._add_links(planned, links, closes)
        if planned.escort is not None:
            fields |= self._escort(number, planned, planned.escort)
        else:
            fields |= self.checkpoints.fields_of(step) | self.messages.fields_of(step)
            fields |= self._by_kind(number, planned) | self._raised(step)
        return row(p.Step, **fields)

    def _shares(self, planned: PlannedStep) -> int:
        if planned.escort is not None:
            return self.store.put_numbers([1.0] * len(self.types))
        return self.store.put_numbers(
            share for kind in self.types for share in accumulate(shares_of(planned.step, kind))
        )

    def _pick(self, planned: PlannedStep) -> int:
        step = planned.step
        if picks_by_line(step):
            return c.WayPick.LINE if getattr(step, "pick", "") == "shortest-line" else c.WayPick.IN_TURN
        by_rule = planned.escort is None and any(link.when for link in links_of(step))
        return c.WayPick.RULE if by_rule else c.WayPick.SHARE

    def _add_links(self, planned: PlannedStep, links: list[tuple[Link, int]], closes: list[bool]) -> None:
        if planned.escort is not None:
            names = [self._name_of_escort(planned)]
        else:
            names = link_names(planned.step.id, [link.to for link, _ in links])
        for (link, to), closing, name in zip(links, closes, names, strict=True):
            escorted = link.escort is not None
            walks = link.travel == "walk" and not escorted
            travel = k.NONE if link.travel in (None, "walk") or escorted else self.store.number_of(link.travel)
            own = planned.escort is None
            self.links.append(
                row(
                    p.Link,
                    key=stable_key("links", name),
                    to=to,
                    travel=travel,
                    walks=walks,
                    back=closing,
                    rule=self.rules.add(link.when) if link.when is not None and own else k.NONE,
                    chance=1.0 if link.chance is None else link.chance,
                )
            )

    def _escort(self, number: int, planned: PlannedStep, link: Link) -> dict[str, object]:
        """Return the fields of a way along which someone goes with the case: work that counts as travel."""
        by_foot = link.travel in (None, "walk")
        time = "0 min" if by_foot or link.travel is None else link.travel
        fields = {
            "key": stable_key("links", self._name_of_escort(planned)),
            "kind": c.StepKind.SERVE,
            "travel_kind": c.TravelKind.WALKED if link.travel == "walk" else c.TravelKind.TIMED,
            "times": self.store.put([self.store.number_of(time)] * len(self.types)),
        }
        return fields | self._served(number, planned, None)

    def _name_of_escort(self, planned: PlannedStep) -> str:
        targets = [link.to for link in links_of(planned.step)]
        return link_names(planned.step.id, targets)[planned.link]

    def _by_kind(self, number: int, planned: PlannedStep) -> dict[str, object]:
        step = planned.step
        if isinstance(step, Serve | Delay):
            return self._activity(number, planned, step)
        if isinstance(step, Signal):
            return self._signal(number, step)
        if isinstance(step, Gather):
            every = 0.0 if step.or_after is None else minutes(step.or_after)
            return {"line": self.lines.add_plain(number), "quorum": step.count, "every": every}
        if isinstance(step, Fork):
            return {"join": self.layout.first[step.join]}
        if isinstance(step, SetTraits):
            first, count = self.starts.add(step.traits, step.id)
            return {"first_start": first, "starts": count}
        if isinstance(step, Exit):
            return {"abandoned": step.abandoned, "penalty": step.penalty}
        return {"line": self.lines.add_plain(number)} if step.kind == "join" else {}

    def _activity(self, number: int, planned: PlannedStep, step: Serve | Delay) -> dict[str, object]:
        work = step.work if isinstance(step, Serve) else step.time
        fields = self._accounts(step) | self._times(work)
        fields |= self._served(number, planned, step if isinstance(step, Serve) else None)
        if isinstance(step, Serve):
            fields["changeover"] = k.NONE if step.changeover is None else self.store.number_of(step.changeover)
            fields["changeover_cost"] = step.changeover_cost
            fields["priority"] = step.priority
            fields["keeps_people"] = step.when_blocked == "keeps-people"
        return fields

    def _accounts(self, step: Serve | Delay | Signal) -> dict[str, object]:
        """Return what a visit costs, and what its minutes count as."""
        return {"cost": step.cost, "value": k.NONE if step.value is None else _VALUE[step.value]}

    def _raised(self, step: Step) -> dict[str, object]:
        """Return the signals that clear when a step ends."""
        cleared = [
            number
            for number, other in enumerate(self.layout.steps)
            if other.escort is None and isinstance(other.step, Signal)
            if other.step.clears and other.step.clears.after_step == step.id
        ]
        return {"first_raised": self.store.put(cleared), "raised": len(cleared)}

    def _served(self, number: int, planned: PlannedStep, step: Serve | None) -> dict[str, object]:
        asked = self.needs.asked_by(planned)
        first = self.needs.put_needs(planned, asked)
        pools = self.needs.pools_of(planned, asked, first)
        line = self.lines.add(number, step, pools)
        coverable = self.needs.coverable(planned)
        return {"line": line, "pool": pools[0], "coverable": coverable, "first_need": first, "needs": len(asked)}

    def _times(self, work: Work) -> dict[str, object]:
        """Return where a step's times lie: by trait as (trait, value, distribution), and by type."""
        by_trait: list[int] = []
        if not isinstance(work, WorkByType):
            work = WorkByType.model_construct(by_trait={}, by_type={}, otherwise=work)
        values = {trait.id: trait.values for trait in self.study.traits}
        for trait, times in work.by_trait.items():
            for value, time in times.items():
                by_trait += [self.traits[trait], values[trait].index(value), self.store.number_of(time)]
        times_of_types = [work.by_type.get(kind, work.otherwise) for kind in self.types]
        return {
            "first_trait_time": self.store.put(by_trait),
            "trait_times": len(by_trait) // 3,
            "times": self.store.put([self.store.number_of(time) for time in times_of_types]),
        }

    def _signal(self, number: int, step: Signal) -> dict[str, object]:
        fields = self._accounts(step) | {"line": self.lines.add_plain(number), "lets_go": step.lets_go or 0}
        if step.open is not None:
            periods = self.calendars.periods[step.open]
            self.timeline += openings(
                periods, c.TimelineKind.SIGNAL_OPENS, c.TimelineKind.SIGNAL_SHUTS, number, self.length
            )
        clears = step.clears
        if clears is None:
            return fields | {"clears": c.SignalKind.OPENING}
        if clears.every is not None:
            every = minutes(clears.every)
            first = every if clears.first is None else minutes(clears.first)
            return fields | {"clears": c.SignalKind.PERIODIC, "every": every, "clears_first": first}
        if clears.at:
            self.timeline += timetable(clears.at, number, self.start, self.length)
            return fields | {"clears": c.SignalKind.TIMETABLE}
        if clears.after_step is not None:
            return fields | {"clears": c.SignalKind.AFTER_STEP}
        if clears.message is not None:
            return fields | {"clears": c.SignalKind.MESSAGE}
        return fields | {"clears": c.SignalKind.SO_MANY, "quorum": clears.waiting}

    def _plan_openings(self) -> None:
        for pool, calendar in enumerate(self.needs.calendars):
            if calendar is not None:
                periods = self.calendars.periods[calendar]
                self.timeline += openings(
                    periods, c.TimelineKind.POOL_OPENS, c.TimelineKind.POOL_SHUTS, pool, self.length
                )
        doors = self.study.run.doors
        if doors is not None:
            self.timeline += openings(
                self.calendars.periods[doors], c.TimelineKind.DOORS_OPEN, c.TimelineKind.DOORS_SHUT, 0, self.length
            )

    def _run(self) -> tuple[object, ...]:
        study, run = self.study, self.study.run
        until = run.until
        fields: dict[str, object] = {
            "steps": len(self.layout.steps),
            "document_steps": len(study.steps),
            "types": len(self.types),
            "traits": len(study.traits),
            "remembered": len(self.slots),
            "counters": len(self.counters),
            "awaiting": -(-self.staff.slots // 32),
            "ways_ahead": self.ahead.most,
            "messages": len(self.messages),
            "spans": self.checkpoints.spans,
            "first_checkpoint": self.checkpoints.from_arrival,
            "of_visits": self.measures.of_visits,
            "of_time": self.measures.of_time,
            "places": len(self.places),
            "walks": self.store.put_numbers(walking_minutes(study.site).ravel()),
            "doors": k.NONE if run.doors is None else self.calendars.numbers[run.doors],
            "until_completed": until.completed if until and until.completed else 0,
            "until_empty": bool(until and until.empty),
            "rooms": len(self.lines.shared),
            "first_weekday": self.start.weekday(),
            "stays": any(team.closing.stay != "leave" for team in study.teams),
            "values": any(isinstance(step, Serve | Delay | Signal) and step.value is not None for step in study.steps),
            "watched_hour": k.NONE,
            "start_minute": self.start.hour * 60 + self.start.minute + self.start.second / 60,
            "length": self.length,
            "interval": minutes(run.interval),
            "by_week": False,
            "checks_every": 0,
            "margin": 0,
        }
        return row(Run, **fields)

    def _sections(self) -> tuple[object, ...]:
        steps, streams = len(self.study.steps), len(self.study.streams)
        return sections_of(steps, len(self.types), len(self.lines.shared), len(self.staff.teams), streams)

    def _most_records(self, plan: Plan) -> int:
        """Return how many records one turn of the loop may take at the most, of any kind."""
        slots = sum(
            int(session.places * ((session.ends - session.begins) // session.every + 1)) for session in plan.sessions
        )
        exact = [each for each in plan.streams if each.kind == c.StreamKind.EXACT_PROFILE]
        counts = [np.diff(plan.numbers[each.profile : each.profile + each.intervals + 1]).max() for each in exact]
        members = int(plan.teams.members.max()) if len(plan.teams) else 0
        ways = int(plan.steps.links.max()) if len(plan.steps) else 0
        batch = (
            int(plan.steps.quorum[plan.steps.kind == c.StepKind.GATHER].max())
            if (plan.steps.kind == c.StepKind.GATHER).any()
            else 0
        )
        return _THINGS_A_TURN * (
            _SPARE
            + len(plan.streams)
            + 3 * members
            + 2 * ways
            + batch
            + 3 * slots
            + int(max(counts, default=0.0))
            + len(plan.breaks)
            + len(plan.span_points)
        )
