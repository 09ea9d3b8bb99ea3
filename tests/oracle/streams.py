"""Where cases come from."""

import math
from datetime import datetime, timedelta
from typing import Any

from flowcore.study import minutes
from flowcore.study.calendars import DAYS, minute_of_day
from tests.oracle import luck
from tests.oracle.cases import INF, Case
from tests.oracle.clock import ARRIVAL
from tests.oracle.service import DAY

WEEK = 7 * DAY


class Source:
    """A stream's progress."""

    def __init__(self, made: Any, start: datetime) -> None:
        self.made = made
        self.key = luck.key("streams", made.id)
        self.created = self.pending = self.drawn = 0
        self.planned = False
        self.expected = 0.0
        self.day = -1
        self.opens = _since(start, made.first, -INF)
        self.shuts = _since(start, made.last, INF)

    @property
    def over(self) -> bool:
        """Say whether the last case has come."""
        return (self.planned and not self.pending) or (self.made.limit is not None and self.created >= self.made.limit)


def _since(start: datetime, moment: str | None, otherwise: float) -> float:
    return otherwise if moment is None else (datetime.fromisoformat(moment) - start).total_seconds() / 60


class Streams:
    """All arrivals."""

    def open_streams(self) -> None:
        self.sources = [Source(each, self.service.start) for each in self.study.streams]
        for source in self.sources:
            kind = source.made.kind
            if kind == "appointments":
                self.at(0.0, ARRIVAL, self.plan_days, source)
            elif kind == "profile" and source.made.spread == "exact":
                self.at(0.0, ARRIVAL, self.plan_interval, source, 0)
            elif kind == "dates":
                source.dates = sorted(
                    (
                        (_since(self.service.start, each.at, 0.0), number)
                        for number, each in enumerate(source.made.arrivals)
                    ),
                )
                source.dates = [each for each in source.dates if each[0] >= 0]
                self.next_occasion(source)
            else:
                if kind == "profile":
                    source.expected = self.expected_before(source, self.minute_of_week(0.0))
                self.next_occasion(source)

    def minute_of_week(self, now: float) -> float:
        start = self.service.start
        return (start.weekday() * DAY + start.hour * 60 + start.minute + now) % WEEK

    def rates(self, source: Source) -> list[float]:
        """Return the expected arrivals of every interval of the week."""
        per_day = round(DAY / minutes(source.made.interval))
        rates: list[float] = []
        for day in DAYS:
            counts = source.made.week.get(day, [])
            rates += [*counts, *[0.0] * (per_day - len(counts))]
        return rates

    def expected_before(self, source: Source, minute: float) -> float:
        length = minutes(source.made.interval)
        rates = self.rates(source)
        whole = int(minute // length)
        return sum(rates[:whole]) + (rates[whole] * (minute / length - whole) if whole < len(rates) else 0.0)

    def next_occasion(self, source: Source) -> None:
        """Schedule the next occasion of a stream whose occasions come one after another."""
        made = source.made
        number = source.drawn
        source.drawn += 1
        fortune = luck.chain(self.seed, source.key, number)
        time, date = INF, None
        if made.kind == "dates":
            if number < len(source.dates):
                time, date = source.dates[number]
        elif made.kind == "profile":
            time = self.by_profile(source, luck.uniform(luck.chain(fortune, luck.GAP)))
        else:
            if made.gap is not None:
                gap = max(0.0, luck.value(made.gap, luck.chain(fortune, luck.GAP)))
            else:
                gap = self.tries(made.chance.probability, fortune) * minutes(made.chance.every)
            start = max(self.now, source.opens) if number == 0 else self.now
            time = self.after_open(made.open, start, gap)
        if time < INF and time <= source.shuts:
            source.pending += 1
            self.at(time, ARRIVAL, self.occasion, source, fortune, date, None)
        else:
            source.planned = True

    def tries(self, chance: float, fortune: Any) -> int:
        if chance >= 1:
            return 1
        return 1 + math.floor(math.log(luck.uniform(luck.chain(fortune, luck.GAP))) / math.log(1 - chance))

    def by_profile(self, source: Source, draw: float) -> float:
        """Return when the expected arrivals have grown by an exponential gap."""
        rates = self.rates(source)
        if sum(rates) <= 0:
            return INF
        source.expected -= math.log(draw)
        weeks, rest = divmod(source.expected, sum(rates))
        for number, rate in enumerate(rates):
            if rest < rate:
                at = (number + rest / rate) * minutes(source.made.interval)
                return weeks * WEEK + at - self.minute_of_week(0.0)
            rest -= rate
        raise AssertionError

    def after_open(self, calendar: str | None, start: float, gap: float) -> float:
        """Return when a calendar has been open for so long from a time on."""
        if calendar is None:
            return start + gap
        for begin, end in self.service.open[calendar]:
            if end <= start:
                continue
            here = max(begin, start, 0.0)
            if gap <= end - here:
                return here + gap
            gap -= end - here
        return INF

    def plan_interval(self, source: Source, number: int) -> None:
        """Spread an interval's exact count over it."""
        made = source.made
        length = minutes(made.interval)
        minute = self.minute_of_week(self.now)
        which = int(minute / length + 1e-9) % len(self.rates(source))
        expected = self.rates(source)[which]
        begins = self.now - (minute - which * length)
        key = luck.chain(self.seed, source.key, number)
        many = math.floor(expected + 1e-9) + (luck.uniform(key, 0) < expected - math.floor(expected + 1e-9))
        for turn in range(many):
            at = begins + luck.uniform(key, turn + 1) * length
            if at >= self.now:
                source.pending += 1
                fortune = luck.chain(self.seed, source.key, source.drawn)
                self.at(at, ARRIVAL, self.occasion, source, fortune, None, None)
            source.drawn += 1
        if begins + length < min(source.shuts, self.service.length):
            self.at(begins + length, ARRIVAL, self.plan_interval, source, number + 1)
        else:
            source.planned = True

    def plan_days(self, source: Source) -> None:
        """Schedule the appointments of today and tomorrow; those of yesterday may go on after midnight."""
        days = (-1, 0, 1) if source.day < 0 else (source.day + 1,)
        for day in days:
            self.plan_slots(source, day)
        source.day = days[-1]
        at = source.day * DAY - self.service.minute_of_day(0.0)
        if at < self.service.length:
            self.at(max(self.now, at), ARRIVAL, self.plan_days, source)
        else:
            source.planned = True

    def plan_slots(self, source: Source, day: int) -> None:
        midnight = day * DAY - self.service.minute_of_day(0.0)
        weekday = DAYS[(self.service.start + timedelta(days=day)).weekday()]
        number = 0
        for session in source.made.sessions:
            begin, end = minute_of_day(session.from_), minute_of_day(session.to)
            end += DAY if end <= begin else 0
            for each in session.days:
                if each == weekday:
                    slots = math.ceil((end - begin) / minutes(session.every) - 1e-9)
                    for slot in range(slots):
                        at = midnight + begin + slot * minutes(session.every)
                        for place in range(session.places if at >= 0 else 0):
                            self.book(source, at, luck.chain(self.seed, source.key, day + 1, number, slot, place))
                number += 1

    def book(self, source: Source, at: float, fortune: Any) -> None:
        made = source.made
        key = luck.chain(fortune, luck.PUNCTUALITY)
        if luck.uniform(key, 1) >= made.filled or luck.uniform(key, 2) < made.no_show:
            return
        if not source.opens <= at <= source.shuts:
            return
        comes = at + (luck.value(made.punctuality, key) if made.punctuality is not None else 0.0)
        source.pending += 1
        self.at(max(self.now, comes), ARRIVAL, self.occasion, source, fortune, None, at)

    def occasion(self, source: Source, fortune: Any, date: int | None, appointed: float | None) -> None:
        """Let a case or a group come, unless the doors or the stream's calendar are shut."""
        made = source.made
        source.pending -= 1
        many = 1
        if made.group is not None:
            many = int(max(0.0, round(luck.value(made.group, luck.chain(fortune, luck.GROUP)))))
        if made.limit is not None:
            many = min(many, made.limit - source.created)
        welcome = self.doors_open() and (appointed is not None or source.opens <= self.now <= source.shuts)
        if made.kind != "random":
            welcome = welcome and self.service.is_open(made.open, self.now)
        if welcome and many > 0:
            source.created += many
            self.soon(self.arrive, source, fortune, date, appointed, many - 1)
        if (
            made.kind not in ("appointments",)
            and not (made.kind == "profile" and made.spread == "exact")
            and not source.over
        ):
            self.next_occasion(source)

    def doors_open(self) -> bool:
        return self.service.is_open(self.study.run.doors, self.now)

    def arrive(self, source: Source, fortune: Any, date: int | None, appointed: float | None, more: int) -> None:
        if more:
            self.soon(self.arrive, source, fortune, date, appointed, more - 1)
        made = source.made
        self.numbers += 1
        own = luck.chain(fortune, more) if more else fortune
        dated = made.arrivals[date] if date is not None else None
        type_ = dated.type if dated is not None else None
        if type_ is None:
            mix = self.mix(made)
            type_ = list(mix)[luck.pick(list(mix.values()), luck.uniform(luck.chain(own, luck.TYPE)))]
        case = Case(self.numbers, own, made.id, type_, self.now)
        kind = self.service.types.get(type_)
        if kind is not None:
            case.priority = kind.priority
            due = None if kind.due is None else minutes(kind.due)
            case.due = INF if due is None else self.now + due
            if appointed is not None:
                case.due = appointed + (due or 0.0)
        self.give_traits(case, kind, made, dated)
        self.tokens.append(case)
        self.inside += 1
        self.note("ARRIVED", case)
        case.station = self.at_one_place(case, self.service.at[made.to])
        self.soon(self.enter, case)

    def give_traits(self, case: Case, kind: Any, stream: Any, dated: Any) -> None:
        for trait in self.study.traits:
            case.traits[trait.id] = trait.values[0] if trait.kind == "category" else 0.0
        own = {each.id: each.start for each in self.study.traits if each.start is not None}
        self.set_traits(case, own | (kind.traits if kind is not None else {}), "")
        self.set_traits(case, stream.traits, "")
        if dated is not None:
            self.set_traits(case, dated.traits, "")

    def mix(self, made: Any) -> dict[str, float]:
        """Return the shares of the case types, in the order of the document, at this time of day."""
        minute = self.service.minute_of_day(self.now)
        parts = made.mix
        for each in made.mix_by_hour:
            begin, end = minute_of_day(each.from_), minute_of_day(each.to)
            if (begin <= minute < end) if begin < end else (minute >= begin or minute < end):
                parts = each.mix
                break
        shares = {each: 0.0 for each in self.service.types} or {"": 0.0}
        for part in parts:
            shares[part.type] = part.share
        if not parts:
            shares[next(iter(shares))] = 1.0
        return shares
