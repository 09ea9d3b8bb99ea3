"""Measures of the analyst's own as records: of cases first, then of visits, then of the time."""

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records import plan as p
from flowcore.kernel.records.record import row
from flowcore.plan.layout import Layout
from flowcore.plan.rules import RuleCompiler
from flowcore.plan.store import Store
from flowcore.study import StudyDocument
from flowcore.study.calendars import minute_of_day
from flowcore.study.measures import OwnMeasure, by_moment

MIDNIGHT = 0.0


class MeasureCompiler:
    """Turns measures into records; the maps say which number stands for which id."""

    def __init__(self, study: StudyDocument, layout: Layout, store: Store, rules: RuleCompiler) -> None:
        self._store, self._rules = store, rules
        self._types = rules.types
        self._streams = {stream.id: number for number, stream in enumerate(study.streams)}
        self._steps = {step.id: number for number, step in enumerate(study.steps)}
        cases, visits, times = by_moment(study.measures)
        self.of_visits, self.of_time = len(cases), len(cases) + len(visits)
        self.rows = [*map(self._of_cases, cases + visits), *map(self._of_time, times)]

    def _of_cases(self, measure: OwnMeasure) -> tuple[object, ...]:
        told = measure.of_cases
        subject, _, element = told.of.partition("/") if told else ("", "", "")
        numbers = {"type": self._types, "stream": self._streams}.get(subject, self._steps)
        whom = {"type": c.AboutWhom.TYPE, "stream": c.AboutWhom.STREAM}.get(subject, c.AboutWhom.STEP)
        is_anyone = (subject, element) == ("type", "all")
        return row(
            p.Measure,
            whom=c.AboutWhom.ANYONE if is_anyone else whom,
            about=k.NONE if is_anyone else numbers[element],
            rule=self._rule(measure),
            level=k.NONE,
            level_of=c.LevelOf.NONE,
            first_edge=0,
            edges=0,
        )

    def _of_time(self, measure: OwnMeasure) -> tuple[object, ...]:
        level_of, level = self._level(measure)
        edges = _edges(measure)
        first = self._store.put_numbers(edges)
        return row(
            p.Measure,
            whom=c.AboutWhom.ANYONE,
            about=k.NONE,
            rule=self._rule(measure),
            level=level,
            level_of=level_of,
            first_edge=first,
            edges=len(edges),
        )

    def _rule(self, measure: OwnMeasure) -> int:
        return k.NONE if measure.rule is None else self._rules.add(measure.rule)

    def _level(self, measure: OwnMeasure) -> tuple[int, int]:
        """Return which kind of level a measure is of, and its number among those."""
        if measure.level is None:
            return c.LevelOf.NONE, k.NONE
        subject, element, quantity = measure.level.of.split("/")
        if subject == "team":
            kind = c.LevelOf.MEMBERS_PRESENT if quantity == "present" else c.LevelOf.MEMBERS_WORKING
            return kind, self._rules.teams[element]
        if (subject, element) == ("type", "all"):
            return c.LevelOf.ALL_INSIDE, k.NONE
        number = self._steps[element] if subject == "step" else len(self._steps) + self._types[element]
        return c.LevelOf.CASES, 2 * number + (quantity == "inside")


def _edges(measure: OwnMeasure) -> list[float]:
    """Return the minutes of the day, in order, at which a measure's rule may change its answer."""
    edges = set()
    for condition in measure.conditions:
        values = condition.value if isinstance(condition.value, list) else [condition.value]
        if condition.kind == "weekday":
            edges.add(MIDNIGHT)
        if condition.kind == "time-of-day":
            edges |= {float(minute_of_day(each)) for each in values if isinstance(each, str)} | {MIDNIGHT}
    return sorted(edges)
