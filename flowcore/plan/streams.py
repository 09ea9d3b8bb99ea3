"""Streams, case types and traits as records."""

from collections import Counter
from collections.abc import Mapping
from datetime import datetime
from itertools import accumulate

import numpy as np

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records import plan as p
from flowcore.kernel.records.record import Table, layout, row, table
from flowcore.plan.keys import stable_key
from flowcore.plan.store import Store
from flowcore.study import StudyDocument, minutes
from flowcore.study.calendars import DAYS, minute_of_day
from flowcore.study.case_types import CaseType, Categories, Trait, TraitStart
from flowcore.study.distributions.discrete import Discrete
from flowcore.study.durations import DAY
from flowcore.study.steps import Add
from flowcore.study.streams import (
    AppointmentStream,
    DateStream,
    MixPart,
    ProfileStream,
    RandomStream,
    Stream,
)
from flowcore.study.timetable import hours_to_period, minutes_of_all, minutes_since


class TraitStarts:
    """The STARTs of all lists of traits, one after another."""

    def __init__(self, traits: list[Trait], store: Store) -> None:
        self._traits = {trait.id: (number, trait) for number, trait in enumerate(traits)}
        self._store = store
        self.rows: list[tuple[object, ...]] = []

    def add(self, values: "Mapping[str, TraitStart | Add]", at: str = "") -> tuple[int, int]:
        """Add what some traits become, `at` a step or at the start; return where it begins and how many they are."""
        first = len(self.rows)
        self.rows += [self._row(trait, value, at) for trait, value in values.items()]
        return first, len(values)

    def defaults_with(self, values: dict[str, TraitStart]) -> tuple[int, int]:
        """Add the starts of all traits, some of them with other values; those without any are left out."""
        own = {name: trait.start for name, (_, trait) in self._traits.items() if trait.start is not None}
        return self.add({**own, **values})

    def _row(self, trait_id: str, value: "TraitStart | Add", at: str) -> tuple[object, ...]:
        number, trait = self._traits[trait_id]
        key = stable_key("traits", f"{at}/{trait_id}" if at else trait_id)
        if isinstance(value, Add):
            return self._start(key, number, add=1, value=value.add)
        if isinstance(value, Categories):
            shares = accumulate(value.shares.get(each, 0.0) for each in trait.values)
            return self._start(key, number, self._categories(len(trait.values), list(shares)))
        if isinstance(value, str):
            return self._start(key, number, value=float(trait.values.index(value)))
        if isinstance(value, int | float):
            return self._start(key, number, value=float(value))
        return self._start(key, number, self._store.number_of(value))

    @staticmethod
    def _start(
        key: int, trait: int, distribution: int = k.NONE, add: int = 0, value: float = 0.0
    ) -> tuple[object, ...]:
        return row(p.Start, key=key, trait=trait, distribution=distribution, add=add, value=value)

    def _categories(self, count: int, shares: list[float]) -> int:
        weights = np.diff(shares, prepend=0.0).tolist()
        return self._store.number_of(
            Discrete(dist="discrete", values=[float(n) for n in range(count)], weights=weights)
        )


def type_records(study: StudyDocument, starts: TraitStarts) -> Table[p.CaseType]:
    """Return the case types; a study without any has one that nobody sees."""
    kinds = study.case_types or [CaseType(id="all", name="All")]
    priorities = sorted({kind.priority for kind in kinds}, reverse=True)
    return table(
        p.CaseType,
        [_type_row(kind, priorities.index(kind.priority), *starts.defaults_with(kind.traits)) for kind in kinds],
    )


def _type_row(kind: CaseType, grade: int, first_start: int, starts: int) -> tuple[object, ...]:
    return row(
        p.CaseType,
        priority=kind.priority,
        grade=grade,
        due=k.NEVER if kind.due is None else minutes(kind.due),
        waiting_cost=kind.waiting_cost,
        inside_cost=kind.inside_cost,
        first_start=first_start,
        starts=starts,
    )


class StreamCompiler:
    """Turns streams into records, with their sessions and dates."""

    def __init__(
        self, study: StudyDocument, steps: dict[str, int], calendars: dict[str, int], store: Store, starts: TraitStarts
    ):
        self._study = study
        self._types = [kind.id for kind in study.case_types] or [""]
        self._steps, self._calendars, self._store, self._starts = steps, calendars, store, starts
        self._begin = datetime.fromisoformat(study.start)
        self.sessions: list[tuple[object, ...]] = []
        self.dates: list[tuple[object, ...]] = []

    def records(self) -> Table[p.Stream]:
        """Return the streams."""
        return table(p.Stream, (row(p.Stream, **self._fields(stream)) for stream in self._study.streams))

    def _fields(self, stream: Stream) -> dict[str, object]:
        """Return the fields of a Stream; what its kind does not know is 0."""
        fields: dict[str, object] = dict.fromkeys(layout(p.Stream).names or (), 0)
        first, count = self._starts.add(stream.traits)
        fields |= {
            "key": stable_key("streams", stream.id),
            "to": self._steps[stream.to],
            "mix": self._mix(stream.mix),
            "gap": k.NONE,
            "punctuality": k.NONE,
            "calendar": k.NONE if stream.open is None else self._calendars[stream.open],
            "group": k.NONE if stream.group is None else self._store.number_of(stream.group),
            "first_start": first,
            "starts": count,
            "limit": stream.limit or 0,
            "opens_at": -k.NEVER if stream.first is None else minutes_since(self._begin, stream.first),
            "shuts_at": k.NEVER if stream.last is None else minutes_since(self._begin, stream.last),
        }
        hours = self._hours(stream)
        fields |= {
            "hours": self._store.put(hours),
            "hour_mixes": len(hours) // 3,
        }
        if isinstance(stream, RandomStream):
            return fields | self._random(stream)
        if isinstance(stream, ProfileStream):
            return fields | self._profile(stream)
        if isinstance(stream, AppointmentStream):
            return fields | self._appointments(stream)
        return fields | self._dated(stream)

    def _mix(self, mix: list[MixPart]) -> int:
        shares = Counter({part.type: part.share for part in mix} or {self._types[0]: 1.0})
        return self._store.put_numbers(accumulate(shares[each] for each in self._types))

    def _hours(self, stream: Stream) -> list[int]:
        """Return from when, until when and where the mixes by hour are; one over midnight is two."""
        entries: list[int] = []
        for part in stream.mix_by_hour:
            begins, ends, mix = minute_of_day(part.from_), minute_of_day(part.to), self._mix(part.mix)
            entries += [begins, ends, mix] if begins < ends else [begins, int(DAY), mix, 0, ends, mix]
        return entries

    def _random(self, stream: RandomStream) -> dict[str, object]:
        if stream.chance is not None:
            every = minutes(stream.chance.every)
            return {"kind": c.StreamKind.CHANCE, "every": every, "chance": stream.chance.probability}
        assert stream.gap is not None
        return {"kind": c.StreamKind.RANDOM, "gap": self._store.number_of(stream.gap)}

    def _profile(self, stream: ProfileStream) -> dict[str, object]:
        length = minutes(stream.interval)
        per_day = round(DAY / length)
        counts: list[float] = []
        week: dict[str, list[float]] = {str(day): expected for day, expected in stream.week.items()}
        for day in DAYS:
            expected = week.get(day, [])
            counts += [*expected, *[0.0] * (per_day - len(expected))]
        return {
            "kind": c.StreamKind.PROFILE if stream.spread == "poisson" else c.StreamKind.EXACT_PROFILE,
            "profile": self._store.put_numbers(accumulate(counts, initial=0.0)),
            "intervals": len(counts),
            "interval": length,
        }

    def _appointments(self, stream: AppointmentStream) -> dict[str, object]:
        first = len(self.sessions)
        for session in stream.sessions:
            begins, ends = hours_to_period(0.0, session.from_, session.to)
            for day in session.days:
                every = minutes(session.every)
                self.sessions.append(
                    row(
                        p.Session,
                        day=DAYS.index(day),
                        places=session.places,
                        begins=begins,
                        ends=ends,
                        every=every,
                    )
                )
        return {
            "kind": c.StreamKind.APPOINTMENTS,
            "first_session": first,
            "sessions": len(self.sessions) - first,
            "filled": stream.filled,
            "no_show": stream.no_show,
            "punctuality": k.NONE if stream.punctuality is None else self._store.number_of(stream.punctuality),
        }

    def _dated(self, stream: DateStream) -> dict[str, object]:
        first = len(self.dates)
        times = minutes_of_all(self._begin, [arrival.at for arrival in stream.arrivals])
        order = np.argsort(times, kind="stable")
        for at, number in zip(times[order].tolist(), order.tolist(), strict=True):
            arrival = stream.arrivals[number]
            kind = k.NONE if arrival.type is None else self._types.index(arrival.type)
            if at >= 0:
                first_start, starts = self._starts.add(arrival.traits)
                self.dates.append(row(p.Date, at=at, type=kind, first_start=first_start, starts=starts))
        return {"kind": c.StreamKind.DATES, "first_date": first, "dates": len(self.dates) - first}
