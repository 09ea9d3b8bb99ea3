"""The parameters of a study as a scenario of BPSim's."""

from datetime import date, datetime
from typing import Any

from flowcore.exchange.bpmn.file.times import as_period
from flowcore.exchange.bpmn.parts.properties import OUR_TYPE
from flowcore.exchange.bpmn.writing.elements import Element, below, qualified
from flowcore.exchange.bpmn.writing.places import Places
from flowcore.exchange.bpmn.writing.streams import gap_of
from flowcore.exchange.bpmn.writing.values import plain, write_time, write_trait
from flowcore.exchange.roster_calendar import written_shifts
from flowcore.study import StudyDocument
from flowcore.study.calendars import Calendar
from flowcore.study.graph import links_of, parts_by_share, shares_of
from flowcore.study.rosters import RosterRow
from flowcore.study.steps import Add, Delay, Fork, Need, Serve, SetTraits, Step, WorkByType
from flowcore.study.streams import Stream
from flowcore.study.teams import Team

TIME_UNIT = "hour"
"""The unit of a scenario's times, since rates are per hour."""
GROUPS = ("Time", "Control", "Resource", "Priority", "Cost", "Property")
"""What BPSim groups parameters by, in its order."""


class ScenarioWriter:
    """Writes one scenario of a study below a BPSimData element, where a study's elements have places in a file."""

    def __init__(self, data: Element, study: StudyDocument, places: Places, scenario_id: str, name: str) -> None:
        self._study = study
        self._places = places
        self._id = scenario_id
        self._scenario = below(data, "bpsim:Scenario", id=scenario_id, name=name)
        self._abouts: dict[str, Element] = {}

    def write(self) -> None:
        """Write everything that is said of the study's elements."""
        self._settings()
        for stream in self._study.streams:
            self._stream(stream)
        for step in self._study.steps:
            self._step(step)
            self._ways(step)
        self._deadlines()
        for team in self._study.teams:
            self._team(team)
        for about in self._abouts.values():
            about[:] = sorted(about, key=_place_of)
        for calendar in self._study.calendars:
            self._calendar(f"calendar_{calendar.id}", calendar.name, *_opening(calendar))
        for team in self._study.teams:
            for number, row in enumerate(team.roster):
                self._calendar(f"shift_{team.id}_{number}", f"{team.name}, shift {number + 1}", [row], team.closed)

    def _parameter(self, element: str, group: str, kind: str, **attributes: object) -> Element:
        """Add a parameter of an element."""
        if element not in self._abouts:
            own = f"{self._id}_{len(self._abouts) + 1}"
            self._abouts[element] = below(self._scenario, "bpsim:ElementParameters", id=own, elementRef=element)
        about = self._abouts[element]
        tag = f"bpsim:{group}Parameters"
        found = about.find(qualified(tag))
        return below(below(about, tag) if found is None else found, f"bpsim:{kind}", **attributes)

    def _settings(self) -> None:
        run = self._study.run
        settings = below(
            self._scenario,
            "bpsim:ScenarioParameters",
            baseTimeUnit=TIME_UNIT,
            baseCurrencyUnit=self._study.currency,
            replication=run.replications,
            seed=run.seed,
        )
        below(
            below(settings, "bpsim:Start"),
            "bpsim:DateTimeParameter",
            value=datetime.fromisoformat(self._study.start).isoformat(),
        )
        below(below(settings, "bpsim:Duration"), "bpsim:DurationParameter", value=as_period(run.length))
        below(below(settings, "bpsim:Warmup"), "bpsim:DurationParameter", value=as_period(run.warm_up))
        started = [trait for trait in self._study.traits if trait.start is not None]
        properties = below(settings, "bpsim:PropertyParameters") if started else None
        for trait in started:
            if properties is not None:
                write_trait(below(properties, "bpsim:Property", name=trait.id), trait.start)

    def _stream(self, stream: Stream) -> None:
        node = self._places.stream(stream.id)
        if node is None:
            return
        gap = gap_of(stream)
        if gap is not None:
            calendar = self._own(f"calendar_{stream.open}") if stream.open else None
            self._time(node, "Control", "InterTriggerTimer", gap, calendar)
        if stream.limit is not None:
            below(self._parameter(node, "Control", "TriggerCount"), "bpsim:NumericParameter", value=stream.limit)
        if stream.mix and self._places.has_types:
            types = self._parameter(node, "Property", "Property", name=OUR_TYPE, type="string")
            chances = below(types, "bpsim:UserDistribution", discrete=True)
            for part in stream.mix:
                point = below(chances, "bpsim:UserDistributionDataPoint", probability=plain(part.share))
                below(point, "bpsim:StringParameter", value=part.type)
        for trait, start in stream.traits.items():
            self._trait(node, stream.name, trait, start)

    def _step(self, step: Step) -> None:
        node = self._places.step(step.id)
        if node is None:
            return
        if isinstance(step, Serve):
            self._time(node, "Time", "ProcessingTime", _one(step.work))
            self._needs(step)
            if step.priority:
                priority = self._parameter(node, "Priority", "Priority")
                below(priority, "bpsim:FloatingParameter", value=plain(step.priority))
            if step.cost:
                below(self._parameter(node, "Cost", "FixedCost"), "bpsim:FloatingParameter", value=plain(step.cost))
            if step.open:
                opens = self._parameter(node, "Resource", "Availability")
                below(opens, "bpsim:BooleanParameter", value=True, validFor=self._own(f"calendar_{step.open}"))
        elif isinstance(step, Delay):
            self._time(node, "Control", "InterTriggerTimer", _one(step.time))
        elif isinstance(step, SetTraits):
            for trait, value in step.traits.items():
                self._trait(node, step.name, trait, value)

    def _needs(self, step: Serve) -> None:
        """Write whom a step needs: at each role, or all at the one place that there is."""
        asked = [_selection(need, self._places) for need in step.needs]
        at = [self._places.selection(step.id, number) for number in range(len(asked))]
        for number, place in enumerate(at):
            if place is not None:
                every = asked if at[1:] and at[1] is None else asked[number : number + 1]
                chosen = self._parameter(place, "Resource", "Selection")
                below(chosen, "bpsim:ExpressionParameter", value=" and ".join(every))

    def _ways(self, step: Step) -> None:
        links = links_of(step)
        shares = _mean_shares(self._study, step) if len(links) > 1 and parts_by_share(step) else None
        for number, link in enumerate(links):
            flow = self._places.way(step.id, number)
            share = link.chance if isinstance(step, Fork) else shares[number] if shares and link.when is None else None
            if flow is not None and share is not None and not link.otherwise:
                below(self._parameter(flow, "Control", "Probability"), "bpsim:FloatingParameter", value=plain(share))
            travel = self._places.travel(step.id, number)
            if travel is not None and link.travel is not None and link.travel != "walk":
                self._time(travel, "Control", "InterTriggerTimer", link.travel)

    def _deadlines(self) -> None:
        for deadline in self._study.deadlines:
            node = self._places.deadline(deadline.id)
            if node is None:
                continue
            timer = self._parameter(node, "Control", "InterTriggerTimer")
            again = deadline.then.every
            values = timer if again in (None, deadline.within) else below(timer, "bpsim:EnumParameter")
            for each in [deadline.within] if again in (None, deadline.within) else [deadline.within, again]:
                below(values, "bpsim:DurationParameter", value=as_period(each or deadline.within))

    def _team(self, team: Team) -> None:
        node = self._places.team(team.id)
        many = self._parameter(node, "Resource", "Quantity")
        if not team.roster:
            below(many, "bpsim:NumericParameter", value=team.members)
        for number, row in enumerate(team.roster):
            below(many, "bpsim:NumericParameter", value=row.people, validFor=self._own(f"shift_{team.id}_{number}"))
        if team.skills:
            roles = self._parameter(node, "Resource", "Role")
            for skill in team.skills:
                below(roles, "bpsim:StringParameter", value=skill)
        for name, money in (("FixedCost", team.use_cost), ("UnitCost", team.rate)):
            if money:
                below(self._parameter(node, "Cost", name), "bpsim:FloatingParameter", value=plain(money))

    def _calendar(self, calendar_id: str, name: str, rows: list[RosterRow], closed: list[str]) -> None:
        team = Team(id="hours", name=name, roster=rows, closed=closed)
        written = below(self._scenario, "bpsim:Calendar", id=self._own(calendar_id), name=name)
        written.text = written_shifts(name, date.fromisoformat(self._study.start[:10]), [team])

    def _own(self, calendar_id: str) -> str:
        """Return the id of a calendar of this scenario, which no other one of the file has."""
        return f"{self._id}_{calendar_id}"

    def _time(self, element: str, group: str, name: str, value: Any, calendar: str | None = None) -> None:
        lost = write_time(self._parameter(element, group, name), value, calendar)
        if lost:
            self._places.lose(element, element, lost, "It is told by twenty values.")

    def _trait(self, element: str, name: str, trait: str, value: Any) -> None:
        written = self._parameter(element, "Property", "Property", name=trait)
        if isinstance(value, Add):
            added = f"bpsim:getProperty('{trait}') + {plain(value.add)}"
            below(written, "bpsim:ExpressionParameter", value=added)
        elif lost := write_trait(written, value):
            self._places.lose(element, name, lost, "It is told by twenty values.")


def _place_of(group: Element) -> int:
    return next(number for number, name in enumerate(GROUPS) if group.tag == qualified(f"bpsim:{name}Parameters"))


def _one(work: Any) -> Any:
    """Return one distribution of work or time, where it differs by case type that of the others."""
    return work.otherwise if isinstance(work, WorkByType) else work


def _selection(need: Need, places: Places) -> str:
    if need.team:
        return f"bpsim:getResource('{places.team(need.team)}',{need.count})"
    return f"bpsim:getResourceByRoles('{need.skill}',{need.count})"


def _mean_shares(study: StudyDocument, step: Step) -> list[float]:
    """Return the share of each way, the mean over the case types where they differ."""
    rows = [shares_of(step, kind.id) for kind in study.case_types] or [shares_of(step, "")]
    return [sum(row[number] for row in rows) / len(rows) for number in range(len(rows[0]))]


def _opening(calendar: Calendar) -> tuple[list[RosterRow], list[str]]:
    """Return the hours of a calendar as rows of a roster, and the dates on which it is closed."""
    weekly = [RosterRow.model_validate(each.model_dump(by_alias=True) | {"people": 1}) for each in calendar.weekly]
    return weekly + [_dated(each.date, each.from_, each.to) for each in calendar.open], calendar.closed


def _dated(day: str, begin: str, end: str) -> RosterRow:
    weekday = date.fromisoformat(day).strftime("%a").lower()
    hours = {"days": [weekday], "from": begin, "to": end, "from_date": day, "to_date": day}
    return RosterRow.model_validate(hours | {"people": 1})
