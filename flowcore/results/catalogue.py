"""What every figure is: its address, its unit, its words, and which way is better.

An address is `subject/id/quantity/statistic`, see `docs/figures.md`, which is made from here. Counts have no
statistic; money is `cost/line/per` or `cost/team/id/line/per`. Behind the quantity `:regular` or `:overtime`
takes a part of the time, behind the statistic `:each` the mean of what each replication says alone.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from pydantic import BaseModel

from flowcore.results.statistics import PERCENTILE_NAMES, STATISTICS
from flowcore.study import StudyDocument, elements
from flowcore.study.calendars import DAY_NAMES, time_of_day
from flowcore.study.durations import HOUR, WEEK, minutes
from flowcore.study.measures import TIME, OwnMeasure

HOURS_A_WEEK = int(WEEK // HOUR)
EACH = ":each"
"""Behind the address of a percentile of all cases together: the mean of the percentiles of each replication."""
REGULAR, OVERTIME = "regular", "overtime"
HALVES = (REGULAR, OVERTIME)


class Unit(StrEnum):
    """What a figure is counted in."""

    MINUTES = "minutes"
    CASES = "cases"
    SHARE = "share"
    MEMBERS = "members"
    MONEY = "money"
    COUNT = "count"


@dataclass(frozen=True)
class FigureKind:
    """A row of the catalogue: what is told of some subjects, by which statistics, and which way is better.

    `better` is 1 where more is better, -1 where less is, 0 where neither can be said. A count has the statistic "".
    `halves` are the statistics that regular time and overtime have apart.
    """

    subjects: tuple[str, ...]
    quantity: str
    words: str
    unit: Unit
    better: int = 0
    statistics: tuple[str, ...] = ("",)
    halves: tuple[str, ...] = ()


CASES = ("type", "stream", "outcome")
PASSED = (*CASES, "step", "span", "checkpoint")
COUNTED = (*CASES, "step")
OF_WAITS = ("mean", "p50", "p90")
OVER_TIME = ("mean", "max", "end")
ALONE = ("",)
OF_ARRIVED = "of:arrived"
GONE = "gone"
"""When the last of the cases that came on a day has left, in minutes after its midnight."""
LOST = ("", OF_ARRIVED)
MONEY = ("run", "per:hour", "per:day", "per:open-day", "per:case")

STATISTIC_WORDS = {
    "mean": "mean",
    "sd": "standard deviation",
    "min": "least",
    "max": "most",
    "p50": "half within",
    "p90": "9 in 10 within",
    **{name: f"{name[1:]} % within" for name in PERCENTILE_NAMES if name not in ("p50", "p90")},
    "none": "share with none",
    "end": "at the end",
    "share": "share of the time inside",
    OF_ARRIVED: "of those who came",
    "run": "in a replication",
    "per:hour": "an hour",
    "per:day": "a day",
    "per:open-day": "a day of opening",
    "per:case": "a completed case",
}
ANY_CAUSE = "any"
CAUSE_WORDS = {
    "busy": "Wait while all are busy",
    "break": "Wait for the end of a break",
    "absent": "Wait because somebody misses a shift",
    "off-shift": "Wait for a shift to begin",
    "interrupted": "Wait for the end of an interruption",
    "place": "Wait for room at the place",
    "closed": "Wait for opening",
    "next-line": "Wait for room in the next line",
    "signal": "Wait for a signal to clear",
    "batch": "Wait for the rest of a batch",
    "branches": "Wait for other branches",
    "minimum": "Minimum wait",
    "person": "Wait for a particular person",
}
CAUSE_SHORT = {
    "busy": "all busy",
    "break": "on a break",
    "absent": "absent",
    "off-shift": "off shift",
    "interrupted": "called away",
    "place": "no room free",
    "closed": "closed",
    "next-line": "next line full",
    "signal": "for a signal",
    "batch": "for a batch",
    "branches": "for other branches",
    "minimum": "minimum wait",
    "person": "for one person",
}
STATE_WORDS = {
    "off": "off shift",
    "absent": "absent",
    "idle": "free",
    "working": "at work",
    "walking": "walking",
    "break": "on a break",
    "interrupted": "called away",
}
VALUE_WORDS = {"adds": "adding value", "necessary": "necessary", "waste": "waste"}
LINE_WORDS = {
    "total": "Cost",
    "regular": "Regular time",
    "idle": "Paid waiting for work",
    "overtime-base": "Overtime at the usual rate",
    "overtime-premium": "Overtime on top",
    "overtime": "Overtime, with what is on top",
    "use": "Use",
    "case": "Visits to steps",
    "changeover": "Changeovers",
    "penalty": "Penalties",
    "waiting": "Cases' waiting",
    "inside": "Cases' time inside",
    "value": "Value of completed cases",
}
TEAM_LINES = ("total", "regular", "idle", "overtime-base", "overtime-premium", "overtime", "use")
PARTS_OF_LINES = ("idle", "overtime")
"""What is told apart of other lines, and does not add to the total."""


def _kinds() -> Iterator[FigureKind]:
    """Yield the rows of the catalogue."""
    less, more = -1, 1
    minutes, cases, share, members = Unit.MINUTES, Unit.CASES, Unit.SHARE, Unit.MEMBERS
    yield FigureKind(PASSED, "wait", "Wait", minutes, less, STATISTICS, OF_WAITS)
    yield FigureKind(PASSED, "work", "Work", minutes, 0, STATISTICS)
    yield FigureKind(PASSED, "travel", "Travel", minutes, less, STATISTICS)
    yield FigureKind(PASSED, "blocked", "Blocked", minutes, less, STATISTICS)
    yield FigureKind(PASSED, "total", "Time in all", minutes, less, STATISTICS)
    yield FigureKind(PASSED, "cost", "Cost of a case", Unit.MONEY, less, STATISTICS)
    yield FigureKind(("day",), GONE, "Last case of a day gone", minutes, less, STATISTICS)
    yield FigureKind(COUNTED, "arrived", "Cases that came", Unit.COUNT, 0, halves=ALONE)
    yield FigureKind(COUNTED, "served", "Cases served", Unit.COUNT, more, halves=ALONE)
    yield FigureKind(CASES, "completed", "Cases completed", Unit.COUNT, more, halves=ALONE)
    for subjects, statistics in ((("type", "stream", "step"), LOST), (("outcome",), ALONE)):
        yield FigureKind(subjects, "abandoned", "Cases that gave up", Unit.COUNT, less, statistics, ALONE)
        yield FigureKind(subjects, "turned-away", "Cases turned away", Unit.COUNT, less, statistics, ALONE)
    yield FigureKind(CASES, "inside", "Cases still inside", Unit.COUNT, less)
    yield FigureKind(("step", "type"), "line", "Cases waiting", cases, less, OVER_TIME, ("mean",))
    yield FigureKind(("step", "type"), "inside", "Cases inside", cases, less, OVER_TIME, ("mean",))
    yield FigureKind(("line",), "inside", "Cases inside", cases, less, OVER_TIME)
    for name, words in {ANY_CAUSE: "Wait for whatever cause", **CAUSE_WORDS}.items():
        yield FigureKind(("step", "type", "team"), f"cause:{name}", words, minutes, less, ("mean",), ("mean",))
    for name, words in VALUE_WORDS.items():
        wish = less if name == "waste" else 0
        yield FigureKind(("type",), f"value:{name}", f"Time {words}", minutes, wish, ("mean", "share"))
    yield FigureKind(("link",), "arrived", "Cases that went the way", Unit.COUNT)
    yield FigureKind(("link",), "travel", "Travel", minutes, less, ("mean",))
    for name, words, wish in (
        ("started", "begun", 0),
        ("met", "met", 1),
        ("missed", "missed", -1),
        ("left", "aside", 0),
    ):
        yield FigureKind(("deadline",), name, f"Deadlines {words}", Unit.COUNT, wish)
    for subject, halves in (("team", ALONE), ("member", ())):
        yield FigureKind((subject,), "utilisation", "At work, of the time on duty", share, halves=halves)
        yield FigureKind((subject,), "occupancy", "At work, of the time at hand", share, halves=halves)
        yield FigureKind((subject,), "paid-use", "At work, of the time paid", share, halves=halves)
        yield FigureKind((subject,), "working", "Members at work", members, halves=halves)
    yield FigureKind(("team",), "present", "Members present", members, halves=ALONE)
    for name, words in STATE_WORDS.items():
        yield FigureKind(("team", "member"), f"state:{name}", f"Share of the time {words}", share)
    yield FigureKind(("place",), "utilisation", "Full, of the time", share)
    yield FigureKind(("place",), "inside", "Cases inside", cases, 0, ("mean",))
    for name, words in LINE_WORDS.items():
        yield FigureKind(("cost",), name, words, Unit.MONEY, more if name == "value" else less, MONEY, MONEY)
    for name in TEAM_LINES:
        yield FigureKind(("cost/team",), name, LINE_WORDS[name], Unit.MONEY, less, MONEY, MONEY)
    yield FigureKind(("measure",), "share", "Share", share)
    yield FigureKind(("measure",), "count", "Count", Unit.COUNT)
    yield FigureKind(("measure",), "time", "Time", minutes, less, STATISTICS)
    yield FigureKind(("measure",), "level", "Level", cases)
    yield FigureKind(("run",), "minutes", "Minutes counted", minutes)


KINDS = tuple(_kinds())
_BY_PLACE = {
    (subject, kind.quantity, statistic, half): kind
    for kind in KINDS
    for subject in kind.subjects
    for half in ("", *HALVES)
    for statistic in (kind.halves if half else kind.statistics)
}


HOURLY = {
    "wait": ("step", "type"),
    "line": ("step",),
    "inside": ("type",),
    "arrived": ("step", "stream"),
    "completed": ("type",),
    "present": ("team",),
    "working": ("team",),
    "utilisation": ("team",),
    **{f"state:{name}": ("team",) for name in STATE_WORDS},
}
"""What is told by the hour of the week, and of which subjects."""
_BY_HOUR = {
    (subject, kind.quantity): kind
    for kind in KINDS
    for subject in kind.subjects
    if subject in HOURLY.get(kind.quantity, ())
}
_HOUR = re.compile(r"hour:(\d{1,3})")


def hour_of(statistic: str) -> int | None:
    """Return the hour of the week that a statistic is of, counted from Monday's midnight; None for any other."""
    found = _HOUR.fullmatch(statistic)
    return int(found[1]) if found and int(found[1]) < HOURS_A_WEEK else None


@dataclass(frozen=True)
class Address:
    """An address taken apart; `id` is empty for the whole service's money and for the run."""

    kind: FigureKind
    subject: str
    id: str
    statistic: str
    half: str

    @classmethod
    def read(cls, address: str) -> "Address | None":
        """Take an address apart; None where the catalogue has no such figure."""
        subject, element, rest = _split(address)
        quantity, _, statistic = rest.partition("/")
        stem, _, half = quantity.rpartition(":")
        plain, half = (stem, half) if stem and half in HALVES else (quantity, "")
        statistic = statistic.removesuffix(EACH)
        if hour_of(statistic) is not None:
            kind = _BY_HOUR.get((subject, quantity))
        else:
            kind = _BY_PLACE.get((subject, plain, "none" if statistic.startswith("within:") else statistic, half))
        return None if kind is None else cls(kind, subject, element, statistic, half)


def _split(address: str) -> tuple[str, str, str]:
    """Return the subject, the id and the rest of an address."""
    subject, _, rest = address.partition("/")
    if subject == "run":
        return subject, "", rest
    if subject == "cost" and not rest.startswith("team/"):
        return subject, "", rest
    if subject == "cost":
        subject, rest = "cost/team", rest.removeprefix("team/")
    element, _, rest = rest.partition("/")
    return subject, element, rest


def preferred_sign(address: str) -> int:
    """Return 1 where more of a figure is better, -1 where less is, 0 where neither can be said."""
    found = Address.read(address)
    return 0 if found is None else _preferred(found)


def _preferred(found: Address) -> int:
    if found.statistic == "sd":
        return 0
    return -found.kind.better if _is_share_of_cases(found.statistic) else found.kind.better


def _is_share_of_cases(statistic: str) -> bool:
    return statistic == "none" or statistic.startswith("within:")


class Title(BaseModel):
    """A figure's name for people, what it is counted in, in words and as a unit, and which way is better."""

    name: str
    unit: Unit
    of: str
    better: int


def titled(address: str, study: StudyDocument) -> Title | None:
    """Return what a figure of a study is called; None where the catalogue has no such figure."""
    found = Address.read(address)
    if found is None:
        return None
    is_share = _is_share_of_cases(found.statistic) or found.statistic in ("share", OF_ARRIVED)
    unit = Unit.SHARE if is_share else found.kind.unit
    measure = _measure(found, study)
    if measure is not None:
        return _own_title(found, measure, study)
    return Title(
        name=_name(found, study), unit=unit, of=_unit_words(found, unit, study), better=preferred_sign(address)
    )


def _measure(found: Address, study: StudyDocument) -> OwnMeasure | None:
    """Return the analyst's own measure that a figure is of; None where it is of none, or of one that is not there."""
    if found.subject != "measure":
        return None
    return next((each for each in study.measures if each.id == found.id), None)


def _own_title(found: Address, measure: OwnMeasure, study: StudyDocument) -> Title:
    """Return what a figure of an own measure is called: as the analyst calls it."""
    unit = Unit.SHARE if _is_share_of_cases(found.statistic) else found.kind.unit
    of = _unit_words(found, unit, study)
    if measure.share is not None:
        of = f"% of {_told_of(measure.share.of)}"
    if measure.level is not None:
        unit = Unit.MEMBERS if measure.level.of.startswith("team/") else Unit.CASES
        of = f"{STATISTIC_WORDS[measure.level.statistic]}, {unit.value}"
    return Title(name=measure.name, unit=unit, of=of, better=_preferred(found))


def _told_of(of: str) -> str:
    """Return in a word what a share is of."""
    return "the time" if of == TIME else "visits" if of.startswith("step/") else "cases"


_WHOLE_WAY = {"wait": "Wait on the whole way", "total": "Door to door"}
_AT = {"step": " at {}", "checkpoint": " until {}", "outcome": ", leaving by {}", "link": " {}"}


def _name(found: Address, study: StudyDocument) -> str:
    """Return the words of a figure with the name of what it is of."""
    words = found.kind.words
    if found.kind.quantity == GONE and _is_share_of_cases(found.statistic):
        words = "Days on which all are gone"
    if found.subject == "type":
        words = _WHOLE_WAY.get(found.kind.quantity, words)
    if found.kind.quantity == "utilisation" and found.subject == "team":
        words = "At work"
    named = _named(found, study)
    half = {"": "", REGULAR: " in regular time", OVERTIME: " in overtime"}[found.half]
    if found.subject == "checkpoint" and ":" in found.id:
        return f"{words} from {named}"
    if not named:
        return words + half
    if found.subject in ("team", "cost/team", "member", "place"):
        return f"{named}: {words[0].lower()}{words[1:]}{half}"
    return words + _AT.get(found.subject, ", {}").format(named) + half


def _named(found: Address, study: StudyDocument) -> str:
    """Return the name of what a figure is of; empty for all of them, or for the whole service."""
    if found.id in ("", "all"):
        return ""
    if found.subject == "member":
        team, _, number = found.id.rpartition(":")
        return f"{_element_name(study, 'teams', team)} {number}"
    if found.subject == "checkpoint":
        return " to ".join(_element_name(study, "steps", step) for step in found.id.split(":"))
    if found.subject == "link":
        return " → ".join(_element_name(study, "steps", step) for step in found.id.split(":")[:2])
    return _element_name(study, _LISTS.get(found.subject, f"{found.subject}s"), found.id)


_LISTS = {"type": "case_types", "outcome": "steps", "checkpoint": "steps", "cost/team": "teams", "place": "site/places"}


def _element_name(study: StudyDocument, part: str, element_id: str) -> str:
    return next((each.name for where, each in elements(study) if where == part and each.id == element_id), element_id)


def _unit_words(found: Address, unit: Unit, study: StudyDocument) -> str:
    """Return a figure's statistic and unit in a few words: "mean, min"."""
    if found.kind.quantity == GONE:
        return _when_gone(found.statistic)
    if found.statistic.startswith("within:"):
        return f"within {_spaced(found.statistic.removeprefix('within:'))}, % of cases"
    hour = hour_of(found.statistic)
    words = STATISTIC_WORDS.get(found.statistic, "") if hour is None else hour_words(hour)
    match unit:
        case Unit.COUNT if hour is not None:
            return f"{words}, an hour"
        case Unit.MONEY:
            return f"{study.currency} {words}" if found.kind.statistics == MONEY else f"{words}, {study.currency}"
        case Unit.COUNT:
            return "in a replication"
        case Unit.SHARE:
            return f"{words}, %" if words else "% of the time"
    shown = {Unit.MINUTES: "min", Unit.CASES: "cases", Unit.MEMBERS: "members"}[unit]
    return f"{words}, {shown}" if words else shown


def _when_gone(statistic: str) -> str:
    """Return a statistic of when days are done in a few words: "by 18:00, % of days"."""
    if statistic.startswith("within:"):
        at = round(minutes(statistic.removeprefix("within:")))
        return f"by {time_of_day(at)}, % of days"
    if statistic == "none":
        return "at midnight, % of days"
    return f"{STATISTIC_WORDS[statistic]}, min after midnight"


def hour_words(hour: int) -> str:
    """Return an hour of the week as it is told: "Monday 10:00 to 11:00"."""
    day, begins = divmod(hour, 24)
    return f"{DAY_NAMES[day]} {begins}:00 to {begins + 1}:00"


def _spaced(time: str) -> str:
    """Return a time with a space before its unit, as it is written in the document."""
    number = time.rstrip("abcdefghijklmnopqrstuvwxyz ")
    return f"{number} {time[len(number) :].strip()}"


MEASURES = (
    "type/all/completed",
    "type/all/wait/mean",
    "type/all/wait/p90",
    "type/all/total/mean",
    "type/all/inside/mean",
    "cost/total/per:day",
)
"""What scenarios are compared by where nothing else is asked for."""


WATCHED_MEASURES = ("type/all/wait/mean", "type/all/wait/p90", "cost/total/per:day")
"""What is looked at while a run goes on."""


MINUTES_COUNTED = "run/minutes"
"""For how long a replication counted."""


def main_measures(addresses: list[str]) -> list[str]:
    """Choose the measures by which two runs are compared where none are named, the widest first."""
    ranked = {address: rank for address in addresses if (rank := _rank(address.split("/"))) is not None}
    return sorted(ranked, key=lambda each: ranked[each])


def _rank(parts: list[str]) -> int | None:
    match parts:
        case ["type", "all", "wait", "mean" | "p90"] | ["type", "all", "total", "mean"]:
            return 0
        case ["cost", "total", "per:hour" | "per:day" | "per:case"]:
            return 1
        case ["type", _, "total", "mean"]:
            return 2
        case ["step", step, "wait", "mean"] if step != "all":
            return 3
        case ["team", _, "utilisation"]:
            return 4
        case ["type", "all", "completed" | "abandoned"]:
            return 5
    return None
