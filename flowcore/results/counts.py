"""Counts, levels over time, and where the minutes go."""

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.ledger import EXACT_BINS, INSIDE_LEVEL, LEAST_OF_WIDE_BINS, LINE_LEVEL
from flowcore.kernel.records.world import World
from flowcore.kernel.summary.views import causes_of_steps, causes_of_teams, causes_of_types
from flowcore.results.arrays import ratios
from flowcore.results.catalogue import ANY_CAUSE, OF_ARRIVED
from flowcore.results.counted import Counted
from flowcore.results.ratios import Figures
from flowcore.results.rows import Rows, places_of
from flowcore.results.samples import INSTANT
from flowcore.results.sums import Places, Ratio, Sums
from flowcore.study import StudyDocument
from flowcore.study.graph import links_of
from flowcore.study.measures import OwnMeasure, by_moment
from flowcore.study.steps import Exit, Gather, Serve, Signal, Step

CAUSES = {
    "busy": k.Account.BUSY,
    "break": k.Account.BREAK,
    "absent": k.Account.ABSENCE,
    "off-shift": k.Account.OFF_SHIFT,
    "interrupted": k.Account.INTERRUPTION,
    "place": k.Account.PLACE,
    "closed": k.Account.CLOSED,
    "next-line": k.Account.NEXT_LINE,
    "signal": k.Account.SIGNAL,
    "batch": k.Account.BATCH,
    "branches": k.Account.BRANCHES,
    "minimum": k.Account.MINIMUM,
    "person": k.Account.PERSON,
}
_LEFT = {"completed": "completed", "served": "completed", "abandoned": "abandoned", "turned-away": "turned_away"}
"""The quantities of those who left, and the fields in which they are counted: whoever completes is served."""
_LOST = ("abandoned", "turned-away")


def outcomes(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield how many cases left by each exit; `arrived` are all of them, `served` who completed; none is inside."""
    exits = [number for number, step in enumerate(study.steps) if isinstance(step, Exit)]
    tally = {field: counted.of("step_tally", field)[exits] for field in ("arrived", *_LEFT.values())}
    quantities = {quantity: tally[field] for quantity, field in _LEFT.items()}
    quantities |= {"inside": tally["arrived"] * 0.0, "arrived": tally["arrived"]}
    yield Figures([f"outcome/{study.steps[number].id}" for number in exits], _counts(quantities, counted))


def tallies(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield how many cases came to steps, were served there or not, and how they left."""
    for quantities, steps in _steps_by_quantities(study).items():
        found = {each: counted.of("step_tally", _OF_STEPS[each])[steps] for each in quantities}
        yield Figures([f"step/{study.steps[number].id}" for number in steps], _counts(found, counted, _LOST))
    types, streams = [each.id for each in study.case_types], [each.id for each in study.streams]
    for subject, table, ids in (("type", "type_tally", types), ("stream", "stream_tally", streams)):
        of_each = {quantity: counted.of(table, field) for quantity, field in _LEFT.items()}
        of_each["arrived"] = counted.of(table, "arrived")
        inside = counted.inside(subject)
        of_all = {quantity: sums.whole() for quantity, sums in of_each.items()}
        named = {quantity: sums[: len(ids)] for quantity, sums in (of_each | {"inside": inside}).items()}
        yield Figures([f"{subject}/{each}" for each in ids], _counts(named, counted, _LOST))
        yield Figures([f"{subject}/all"], _counts(of_all | {"inside": inside.whole()}, counted, _LOST))


_OF_STEPS = {"arrived": "arrived", "served": "served", "abandoned": "abandoned", "turned-away": "turned_away"}


def _steps_by_quantities(study: StudyDocument) -> dict[tuple[str, ...], list[int]]:
    """Return the steps of which the same quantities are told."""
    found: dict[tuple[str, ...], list[int]] = {}
    for number, step in enumerate(study.steps):
        found.setdefault(_counted_at(step), []).append(number)
    return found


def _counted_at(step: Step) -> tuple[str, ...]:
    """Return which of _OF_STEPS are told of a step."""
    served = () if isinstance(step, Exit) else ("served",)
    abandoned = ("abandoned",) if isinstance(step, Serve | Signal | Gather) else ()
    return ("arrived", *served, *abandoned, *(("turned-away",) if isinstance(step, Serve) else ()))


def _counts(quantities: Mapping[str, Sums], counted: Counted, lost: Sequence[str] = ()) -> dict[str, Ratio]:
    """Return quantities as counts, and those that are lost as shares of those who arrived too."""
    shares = {f"{each}/{OF_ARRIVED}": quantities[each] / quantities["arrived"] for each in lost if each in quantities}
    return {quantity: sums / counted.one for quantity, sums in quantities.items()} | shares


def ways(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield which ways were taken how often, and how long they took."""
    links: dict[str, list[int]] = {}
    for planned in counted.plan.steps:
        if not planned.travel_kind:
            step = study.steps[planned.document]
            for number, link in enumerate(links_of(step)):
                links.setdefault(f"link/{step.id}:{link.to}", []).append(planned.first_link + number)
    for many in sorted({len(each) for each in links.values()}):
        mine = {address: each for address, each in links.items() if len(each) == many}
        rows = np.array([*mine.values()])
        taken, travel = (counted.of("links", field).of_groups(rows) for field in ("taken", "travel"))
        yield Figures([*mine], {"arrived": taken / counted.one, "travel/mean": travel / taken})


def deadlines(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield how deadlines were kept."""
    quantities = {field: counted.of("deadlines", field) for field in ("started", "met", "missed", "left")}
    yield Figures([f"deadline/{each.id}" for each in study.deadlines], _counts(quantities, counted))


def levels(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield means, maxima and ends of lines and of cases inside, in regular time and overtime too."""
    first, last = int(counted.plan.sections[0].type_levels), int(counted.plan.sections[0].room_levels)
    types = [case_type.id for case_type in study.case_types]
    for subject, begin, end, ids in (("step", 0, first, timed_steps(study)), ("type", first, last, types)):
        named = [number for number, each in enumerate(ids) if each]
        for column, quantity in ((LINE_LEVEL, "line"), (INSIDE_LEVEL, "inside")):
            rows = list(range(begin + column, end, 2))
            area, now = (counted.of("levels", field)[rows].whole() for field in ("area", "now"))
            of_all = {f"{quantity}/mean": area / counted.minutes, f"{quantity}/end": now / counted.one}
            yield Figures([f"{subject}/all"], of_all)
            of_each = _of_levels([rows[number] for number in named], quantity, counted, splits=study.has_shifts)
            yield Figures([f"{subject}/{ids[number]}" for number in named], of_each)
    names = shared_rooms(study)
    rooms = list(range(last, last + len(names)))
    yield Figures([f"line/{name}" for name in names], _of_levels(rooms, "inside", counted, splits=False))


def _of_levels(rows: list[int], quantity: str, counted: Counted, *, splits: bool) -> dict[str, Ratio]:
    area, overtime, now, highest = (
        counted.of("levels", field)[rows] for field in ("area", "overtime", "now", "highest")
    )
    told = {"/mean": area / counted.minutes, "/max": highest / counted.one, "/end": now / counted.one}
    if splits:
        told[":regular/mean"] = (area - overtime) / (counted.minutes - counted.overtime)
        told[":overtime/mean"] = overtime / counted.overtime
    return {f"{quantity}{rest}": ratio for rest, ratio in told.items()}


VALUES = {"adds": c.ValueClass.ADDS, "necessary": c.ValueClass.NECESSARY, "waste": c.ValueClass.WASTE}


def value_shares(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield the minutes per case that add value, are necessary or are waste, and their shares of the time inside.

    Work counts by the value of its step; waiting and being blocked are waste; the way from step to step and
    work at steps without a value count as none of them.
    """
    by_cause = causes_of_types(counted.rows_of("cause_minutes"), counted.plan)
    by_value = counted.rows_of("value_minutes")
    worked = {name: Sums.at(by_value[:, [column]]) for name, column in VALUES.items()}
    worked["waste"] += Sums.at(by_cause[:, k.FIRST_CAUSE :])
    total, left = Sums.at(by_cause), _all_who_left(counted)
    subjects = [f"type/{kind.id}" for kind in study.case_types]
    for names, mine in ((["type/all"], Sums.whole), (subjects, lambda sums: sums[: len(subjects)])):
        told = {name: mine(minutes) for name, minutes in worked.items()}
        means = {f"value:{name}/mean": minutes / mine(left) for name, minutes in told.items()}
        yield Figures(names, means | {f"value:{name}/share": minutes / mine(total) for name, minutes in told.items()})


def _all_who_left(counted: Counted) -> Sums:
    """Return how many cases of each type left, however they did."""
    completed, abandoned, turned_away = (counted.of("type_tally", each) for each in dict.fromkeys(_LEFT.values()))
    return completed + abandoned + turned_away


class LevelShares:
    """Tells for how large a share of the time each line, and the cases inside, were how many; see `least_of_bins`."""

    def __init__(self, study: StudyDocument) -> None:
        subjects = [f"step/{each}" if each else "" for each in timed_steps(study)]
        subjects += [f"type/{kind.id}" for kind in study.case_types]
        columns = {LINE_LEVEL: "line", INSIDE_LEVEL: "inside"}
        named = [(number, each) for number, each in enumerate(subjects) if each]
        self._rows = [2 * number + column for number, _ in named for column in columns]
        self._places = places_of(f"{each}/{quantity}" for _, each in named for quantity in columns.values())

    def __call__(self, world: World) -> Rows:
        """Return the shares of a world at its end."""
        minutes = world.level_minutes[self._rows]
        return Rows(self._places, ratios(minutes, minutes.sum(axis=1)[:, None]))


def least_of_bins() -> list[int]:
    """Return the least number that falls into each bin of a level's shares: each one singly, then ever wider."""
    return [*range(EXACT_BINS), *LEAST_OF_WIDE_BINS]


def shared_rooms(study: StudyDocument) -> list[str]:
    """Return the names of shared waiting rooms, in the order of the plan."""
    named = [step.line.shared for step in study.steps if isinstance(step, Serve) and step.line.shared]
    return list(dict.fromkeys(named))


def timed_steps(study: StudyDocument) -> list[str]:
    """Return the ids of steps, "" for those that take no time."""
    return ["" if step.kind in INSTANT else step.id for step in study.steps]


def causes(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield the minutes per case by cause of waiting: of a step's visits, of a type's cases, of all for a team.

    Those who gave up or were turned away count too, as far as they waited.
    """
    by_cause, plan = counted.rows_of("cause_minutes"), counted.plan
    of_steps, of_types = causes_of_steps(by_cause, plan), causes_of_types(by_cause, plan)
    of_teams = causes_of_teams(by_cause, plan)
    steps = [number for number, each in enumerate(timed_steps(study)) if each]
    served, abandoned, turned_away = (
        counted.of("step_tally", field)[steps] for field in ("served", "abandoned", "turned_away")
    )
    left, types, teams = _all_who_left(counted), len(study.case_types), len(study.teams)
    gone = served + abandoned + turned_away
    yield Figures([f"step/{study.steps[number].id}" for number in steps], _by_cause(of_steps[steps], gone))
    yield Figures([f"type/{kind.id}" for kind in study.case_types], _by_cause(of_types[:types], left[:types]))
    everyone = np.moveaxis(of_types, 0, 1)[None]
    yield Figures(["type/all"], _by_cause(everyone, left.whole()))
    yield Figures([f"team/{team.id}" for team in study.teams], _by_cause(of_teams[:teams], left.whole()))


def _by_cause(minutes: Places, cases: Sums) -> dict[str, Ratio]:
    """Return minutes per case of subjects by cause, which stand at places of shape (subjects, ACCOUNTS, …)."""
    told = {name: Sums.at(minutes[:, [cause]]) / cases for name, cause in CAUSES.items()}
    told[ANY_CAUSE] = Sums.at(minutes[:, list(CAUSES.values())]) / cases
    return {f"cause:{name}/mean": ratio for name, ratio in told.items()}


def own_measures(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield the shares, counts and levels that a study's own measures ask for; times are told with the spans."""
    asked = [measure for measures in by_moment(study.measures) for measure in measures]
    for number, measure in enumerate(asked):
        told = {field: counted.of("measured", field)[[number]] for field in ("among", "held", "area", "highest")}
        yield Figures([f"measure/{measure.id}"], _of_own(measure, told, counted.one))


def _of_own(measure: OwnMeasure, told: Mapping[str, Sums], one: Sums) -> dict[str, Ratio]:
    if measure.share is not None:
        return {"share": told["held"] / told["among"]}
    if measure.count is not None:
        return {"count": told["held"] / one}
    if measure.level is not None and measure.level.statistic == "mean":
        return {"level": told["area"] / told["held"]}
    return {"level": told["highest"] / one}
