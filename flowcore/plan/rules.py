"""Rules as byte code: every condition a test that says where to go on."""

from dataclasses import dataclass, field

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records import plan as p
from flowcore.kernel.records.record import row
from flowcore.plan.store import Store
from flowcore.study.calendars import DAYS, minute_of_day
from flowcore.study.durations import minutes
from flowcore.study.rules import Clause, Condition, Rule

_FACTS = {
    "type": c.Fact.TYPE,
    "trait": c.Fact.TRAIT,
    "in-system": c.Fact.IN_SYSTEM,
    "waited-here": c.Fact.WAITED_HERE,
    "waited": c.Fact.WAITED,
    "visits": c.Fact.VISITS,
    "line": c.Fact.LINE,
    "free": c.Fact.FREE,
    "time-of-day": c.Fact.TIME_OF_DAY,
    "weekday": c.Fact.WEEKDAY,
    "message": c.Fact.MESSAGE,
}
_TESTS = {
    "equal": c.Comparison.EQUAL,
    "not": c.Comparison.NOT,
    "under": c.Comparison.UNDER,
    "at-most": c.Comparison.AT_MOST,
    "over": c.Comparison.OVER,
    "at-least": c.Comparison.AT_LEAST,
    "in": c.Comparison.IN,
}


@dataclass
class RuleCompiler:
    """Turns rules into tests; the maps say which number stands for which id."""

    store: Store
    types: dict[str, int]
    traits: dict[str, int]
    values: dict[str, list[str]]
    steps: dict[str, int]
    teams: dict[str, int]
    counters: dict[str, int]
    tellers: dict[str, int]
    tests: list[tuple[object, ...]] = field(default_factory=list)

    def add(self, rule: Rule) -> int:
        """Add a rule's tests and return where they begin."""
        return self._place(rule, c.RULE_HOLDS, c.RULE_FAILS)

    def _place(self, clause: Clause, yes: int, no: int) -> int:
        """Place a clause's tests, last first, so that each knows where to go on; return its first."""
        if isinstance(clause, Condition):
            return self._place_test(clause, yes, no)
        first = yes if clause.all else no
        for part in reversed(clause.clauses):
            first = self._place(part, first, no) if clause.all else self._place(part, yes, first)
        return first

    def _place_test(self, condition: Condition, yes: int, no: int) -> int:
        values = condition.value if isinstance(condition.value, list) else [condition.value]
        numbers = [self._number(condition, value) for value in values]
        self.tests.append(
            row(
                p.Test,
                fact=_FACTS[condition.kind],
                about=self._about(condition),
                is_=_TESTS[condition.is_],
                count=len(numbers),
                first=self.store.put_numbers(numbers),
                yes=yes,
                no=no,
            )
        )
        return len(self.tests) - 1

    def _about(self, condition: Condition) -> int:
        maps = {"trait": self.traits, "visits": self.counters, "line": self.steps, "free": self.teams}
        return maps[condition.kind][condition.about] if condition.kind in maps else 0

    def _number(self, condition: Condition, value: str | float) -> float:
        if not isinstance(value, str):
            return float(value)
        if condition.kind == "type":
            return float(self.types[value])
        if condition.kind == "message":
            return float(self.tellers.get(value, k.NONE))
        if condition.kind == "trait":
            return float(self.values[condition.about].index(value))
        if condition.kind == "time-of-day":
            return float(minute_of_day(value))
        return float(DAYS.index(value)) if condition.kind == "weekday" else minutes(value)
