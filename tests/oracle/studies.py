"""Small studies put together at random from every construct, by a seed: the same seed, the same study."""

import random
from itertools import pairwise
from typing import Any

Part = dict[str, Any]
DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
RULES = ["finish", "finish-short", "pause", "hand-over"]
DISCIPLINES = ["first-come", "last-come", "priority", "due", "shortest-work", "random"]


class Maker:
    """Makes one study; `without` names constructs that it leaves out."""

    def __init__(self, seed: int, without: frozenset[str] = frozenset()) -> None:
        self.seed = seed
        self.rng = random.Random(seed)
        self.without = without
        self.steps: list[Part] = []
        self.round = self.rng.random() < 0.15
        self.names = 0
        self.calendars: list[Part] = []
        self.has_site = self.maybe(0.3, "site")
        self.shared = f"room{seed % 3}"

    def maybe(self, chance: float, *constructs: str) -> bool:
        """Say yes with a chance, unless one of some constructs is to be left out."""
        return self.rng.random() < chance and not any(each in self.without for each in constructs)

    def among(self, *options: Any) -> Any:
        """Pick one of some options, each with its name where it may be left out."""
        return self.rng.choice([each for each in options if not (isinstance(each, str) and each in self.without)])

    def minutes(self, low: float, high: float) -> str:
        """Return a time, mostly one that meets no other by chance."""
        amount = self.rng.uniform(low, high)
        return f"{max(1, round(amount))} min" if self.round else f"{amount:.3f} min"

    def time(self, low: float = 1, high: float = 6) -> Any:
        shape = self.rng.randrange(5)
        if shape < 2 or self.round:
            return self.minutes(low, high)
        if shape == 2:
            return {"dist": "exponential", "mean": self.minutes(low, high)}
        if shape == 3:
            return {"dist": "uniform", "low": "0 min", "high": self.minutes(high, 2 * high)}
        return {"dist": "lognormal", "mean": self.minutes(low, high), "sd": self.minutes(1, high)}

    def calendar(self) -> str:
        """Add a calendar that opens and shuts within the run."""
        name = f"cal{len(self.calendars)}"
        begin, end = self.among("08:00", "08:40", "09:00"), self.among("10:30", "12:00", "15:00")
        hours = [{"days": DAYS, "from": begin, "to": end}]
        if self.maybe(0.4):
            hours.append({"days": DAYS, "from": "15:20", "to": self.among("17:00", "02:00")})
        self.calendars.append({"id": name, "name": name, "weekly": hours})
        return name

    # The flow

    def name(self) -> str:
        self.names += 1
        return f"s{self.names}"

    def line(self) -> Part:
        line: Part = {"discipline": self.among(*DISCIPLINES)}
        if self.maybe(0.3, "max"):
            line["max"] = self.rng.randint(0, 3)
            if self.maybe(0.5, "turn-away"):
                line |= {"when_full": "turn-away", "full_to": self.aside}
            if self.maybe(0.3, "shared"):
                line["shared"] = self.shared
        if self.maybe(0.15, "balk"):
            line |= {"balk_at": self.rng.randint(1, 3), "balks_to": self.aside}
        if self.maybe(0.2, "patience"):
            line |= {"patience": self.time(4, 12), "gives_up_to": self.aside}
        if self.maybe(0.15, "min_wait"):
            line["min_wait"] = self.minutes(1, 3)
        return line

    def needs(self) -> list[Part]:
        options: list[list[Part]] = [
            [{"team": "nurses"}],
            [{"team": "nurses"}],
            [{"team": "clerks"}],
            [{"team": "clerks"}],
            [{"skill": "desk", "prefer": [self.among("nurses", "clerks")]}],
            [{"skill": "desk"}],
            [{"skill": "desk"}, {"team": "clerks"}],
            [{"skill": "desk", "count": 2}],
            [{"team": "clerks"}, {"team": "rooms"}],
            [{"team": "nurses"}, {"team": "clerks"}],
            [{"team": "nurses", "count": 2}],
            [{"team": "rooms"}],
            [],
        ]
        return list(self.among(*options))

    def serve(self, name: str, to: str, needs: list[Part] | None = None) -> Part:
        step: Part = {"id": name, "name": name, "kind": "serve", "work": self.time(), "next": [self.way(to)]}
        step["needs"] = self.needs() if needs is None else needs
        if self.maybe(0.6):
            step["line"] = self.line()
        if self.maybe(0.25, "by-type"):
            work: Part = {"by_type": {"urgent": self.time()}, "otherwise": step["work"]}
            if self.maybe(0.5, "by-trait"):
                work["by_trait"] = {"sort": {"big": self.time()}}
            step["work"] = work
        if self.maybe(0.2, "changeover"):
            step["changeover"] = self.minutes(1, 2)
        if self.maybe(0.3, "keeps-people"):
            step["when_blocked"] = "keeps-people"
        if self.maybe(0.15, "reserve"):
            step["reserve"] = True
        if self.maybe(0.2, "preempts"):
            step["preempts"] = True
        if self.maybe(0.2, "step-priority"):
            step["priority"] = self.among(-1, 1, 3)
        if self.maybe(0.15, "step-open"):
            step["open"] = self.calendar()
        if self.maybe(0.2, "step-overtime"):
            step["overtime"] = self.among("no", "no", "only")
        if self.maybe(0.2):
            step["cost"] = 2.5
        if self.has_site:
            step |= self.somewhere()
        return step

    def somewhere(self) -> Part:
        if self.maybe(0.4, "places"):
            picks = self.among("shortest-line", "nearest", "share", "in-turn")
            places = [{"place": "hall", "share": 0.4}, {"place": "yard", "share": 0.6}]
            if picks != "share":
                places = [{"place": "hall"}, {"place": "yard"}]
            return {"places": places, "pick_place": picks}
        return {"place": self.among("hall", "yard", "den")} if self.maybe(0.7) else {}

    def way(self, to: str) -> Part:
        way: Part = {"to": to}
        if self.maybe(0.2, "travel"):
            way["travel"] = self.time(1, 3)
        elif self.has_site and self.maybe(0.3, "walk"):
            way["travel"] = "walk"
        if self.maybe(0.1, "escort"):
            way["escort"] = {"team": self.among("nurses", "clerks")}
        return way

    def plain(self, name: str, kind: str, to: str, **more: Any) -> Part:
        return {"id": name, "name": name, "kind": kind, "next": [self.way(to)], **more}

    def stretch(self, name: str, to: str) -> None:
        """Add a few steps that lead from the one named to the one given."""
        kinds = ["serve"] * 4 + [
            "rework", "delay", "signal", "gather", "fork", "choose", "choose", "set", "kept", "known",
            "fork-gather",
        ]  # fmt: skip
        kind = self.among(*kinds)
        getattr(self, "make_" + kind.replace("-", "_"))(name, to)

    def make_serve(self, name: str, to: str) -> None:
        self.steps.append(self.serve(name, to))

    def make_rework(self, name: str, to: str) -> None:
        step = self.serve(name, to)
        step["next"] = [self.way(to) | {"share": 0.7}, self.way(name) | {"share": 0.3}]
        self.steps.append(step)

    def make_delay(self, name: str, to: str) -> None:
        step = self.plain(name, "delay", to, time=self.time())
        if self.maybe(0.3, "step-open"):
            step["open"] = self.calendar()
        self.steps.append(step)

    def make_signal(self, name: str, to: str) -> None:
        clears = self.among(
            {"every": self.minutes(5, 20)},
            {"every": self.minutes(5, 20), "first": self.minutes(1, 5)},
            {"at": ["08:47", "09:13", "10:30", "11:59"]},
            {"waiting": self.rng.randint(1, 3)},
            {"after_step": self.rng.choice(self.steps)["id"]} if self.steps else {"waiting": 2},
            {"message": self.among("errand", *(step["id"] for step in self.steps))},
            {"message": "errand", "also": [self.among("errand", *(step["id"] for step in self.steps))]},
            None,
        )
        step = self.plain(name, "signal", to)
        if clears is not None:
            step["clears"] = clears
        by_message = clears is not None and "message" in clears
        if clears is None or (self.maybe(0.3, "step-open") and not by_message):
            step["open"] = self.calendar()
        if self.maybe(0.4) and not by_message:
            step["lets_go"] = self.rng.randint(1, 3)
        self.steps.append(step)

    def make_gather(self, name: str, to: str) -> None:
        gather: Part = {"count": self.rng.randint(1, 3)}
        if self.maybe(0.7, "or-after"):
            gather["or_after"] = self.minutes(8, 20)
        inner, end = self.name(), self.name()
        self.steps.append(self.plain(name, "gather", inner, **gather))
        self.stretch(inner, end)
        self.steps.append(self.plain(end, "scatter", to))

    def make_fork(self, name: str, to: str) -> None:
        join = self.name()
        ways = []
        for _ in range(self.rng.randint(2, 3)):
            branch = self.name()
            way = self.way(branch)
            if self.maybe(0.3, "chance"):
                way["chance"] = 0.5
            ways.append(way)
            self.branch(branch, join)
        self.steps.append({"id": name, "name": name, "kind": "fork", "join": join, "next": ways})
        self.steps.append(self.plain(join, "join", to))

    def branch(self, name: str, join: str) -> None:
        aside, self.aside = self.aside, join
        self.stretch(name, join)
        self.aside = aside

    def make_fork_gather(self, name: str, to: str) -> None:
        """A batch gathered on a branch comes apart at the join."""
        join, one, two, inner = (self.name() for _ in range(4))
        self.steps.append(
            {"id": name, "name": name, "kind": "fork", "join": join, "next": [self.way(one), self.way(two)]}
        )
        self.steps.append(self.plain(one, "gather", inner, count=2, or_after=self.minutes(8, 20)))
        self.branch(inner, join)
        self.branch(two, join)
        self.steps.append(self.plain(join, "join", to))

    def make_choose(self, name: str, to: str) -> None:
        pick = self.among("share", "rule", "shortest-line", "in-turn")
        one, two = self.name(), self.name()
        ways = [self.way(one), self.way(two)]
        if pick == "share":
            ways[0]["share"], ways[1]["share"] = 0.4, 0.6
            if self.maybe(0.3):
                ways[0]["share_by_type"], ways[1]["share_by_type"] = {"urgent": 0.9}, {"urgent": 0.1}
        if pick == "rule":
            ways[0]["when"] = self.rule()
            ways[1]["otherwise"] = True
        self.steps.append({"id": name, "name": name, "kind": "choose", "pick": pick, "next": ways})
        self.stretch(one, to)
        self.stretch(two, to)

    def rule(self) -> Part:
        conditions = [self.condition() for _ in range(self.rng.randint(1, 2))]
        inner: Part = {self.among("all", "any"): conditions}
        return {"any": [inner, self.condition()]} if self.maybe(0.3) else inner

    def condition(self) -> Part:
        step = self.rng.choice([each["id"] for each in self.steps if each["kind"] in ("serve", "signal")] or ["errand"])
        fact, is_, value = self.among(
            ("type", "equal", "urgent"),
            ("type", "in", ["usual"]),
            ("trait:size", "over", 2),
            ("trait:sort", "equal", "big"),
            ("in-system", "at-least", "12 min"),
            ("waited", "over", "5 min"),
            ("waited-here", "under", "2 min"),
            (f"visits:{step}", "over", 0),
            (f"line:{step}", "at-most", 1),
            ("free:clerks", "at-least", 1),
            ("free:nurses", "under", 1),
            ("time-of-day", "over", "09:30"),
            ("weekday", "not", "tue"),
            ("message", self.among("equal", "not"), step),
            ("message", "in", ["errand", step]),
        )
        return {"fact": fact, "is": is_, "value": value}

    def make_set(self, name: str, to: str) -> None:
        traits = self.among(
            {"size": {"add": 1}},
            {"size": {"dist": "uniform", "low": 0, "high": 4}},
            {"sort": {"shares": {"big": 0.3, "small": 0.7}}, "size": 3},
            {"sort": "big"},
        )
        self.steps.append(self.plain(name, "set", to, traits=traits))

    def make_kept(self, name: str, to: str) -> None:
        """A member stays with the case for one or two more steps."""
        team = self.among("nurses", "clerks")
        middle, end = self.name(), self.name()
        needs: list[Part] = [{"team": team, "as": f"{name}-x", "keep_until": self.among(middle, end)}]
        if self.maybe(0.3):
            needs.append({"team": self.among("nurses", "clerks", "rooms")})
        self.steps.append(self.serve(name, middle, needs))
        if self.maybe(0.5):
            self.steps.append(self.serve(middle, end, [{"team": team, "count": self.rng.randint(1, 2)}]))
        else:
            self.steps.append(self.serve(middle, end))
        self.steps.append(self.serve(end, to))

    def make_known(self, name: str, to: str) -> None:
        """A case asks for the same member as before, others between."""
        team = self.among("nurses", "clerks")
        end = self.name()
        first: Part = {"team": team, "as": f"{name}-x"}
        again: Part = {"team": team, "same_as": f"{name}-x"}
        if self.maybe(0.3):
            again |= {"as": f"{name}-x"}
        needs = [again] if self.maybe(0.6) else [{"team": "rooms"}, again]
        if self.maybe(0.5):
            middle = self.name()
            self.steps.append(self.serve(name, middle, [first]))
            self.steps.append(self.serve(middle, end))
        else:
            self.steps.append(self.serve(name, end, [first]))
        self.steps.append(self.serve(end, to, needs))

    # The people

    def rest(self) -> Part:
        taken = self.among("together", "in-turn", "spread")
        rest: Part = {"length": self.minutes(8, 30), "taken": taken}
        rest |= {"after": self.minutes(20, 90)} if self.maybe(0.7) else {"at": self.among("08:50", "09:30", "10:20")}
        if taken == "spread":
            rest["within"] = self.minutes(40, 90)
        if self.maybe(0.3):
            rest["paid"] = False
        return rest

    def interruption(self) -> Part:
        measure = self.among("clock", "working", "cases")
        amount: Any = self.time(20, 60) if measure != "cases" else self.rng.randint(1, 5)
        if measure == "working":
            amount = {"dist": "uniform", "low": "20 min", "high": "60 min"}
        return {
            "name": "Call",
            "after": {measure: amount},
            "length": self.time(2, 8),
            "strikes": self.among("each", "team"),
            "work": self.among(*RULES),
        }

    def nurses(self) -> Part:
        rows = [{"days": DAYS, "from": "08:00", "to": self.among("10:00", "11:00", "13:00"), "people": 2}]
        if self.maybe(0.6):
            rows.append(
                {"days": DAYS, "from": self.among("09:30", "11:00"), "to": self.among("14:00", "02:00"), "people": 1}
            )
        if self.maybe(0.2):
            rows[0]["from"] = "07:00"
        if self.maybe(0.6, "breaks"):
            rows[0]["breaks"] = [self.rest() for _ in range(self.rng.randint(1, 2))]
        stay = self.among("leave", "clear-line", "empty")
        closing: Part = {"stay": stay}
        if stay == "empty" or self.maybe(0.3):
            closing["at_most"] = self.minutes(10, 60)
        if "stay" in self.without:
            closing = {}
        team: Part = {
            "id": "nurses", "name": "Nurses", "roster": rows, "skills": ["desk"], "rate": 30, "overtime": 1.5,
            "at_break": self.among(*RULES), "at_shift_end": self.among(*RULES), "closing": closing,
            "picks": self.among("longest-idle", "least-used", "listed", "random"),
        }  # fmt: skip
        if self.maybe(0.3, "interruptions"):
            team["interruptions"] = [self.interruption()]
        if self.maybe(0.3, "absence"):
            team |= {"absence": self.among(0.3, 0.7), "absence_paid": self.maybe(0.5)}
            rows[-1] |= {"from": "09:30", "to": "09:30"} if self.maybe(0.2) else {}
        return team

    def clerks(self) -> Part:
        team: Part = {
            "id": "clerks", "name": "Clerks", "size": 2, "skills": ["desk"], "rate": 20, "use_cost": 0.5,
            "paid": self.among("present", "used"), "pace": self.among(1.0, 1.25),
            "picks": self.among("longest-idle", "least-used", "listed", "random"),
        }  # fmt: skip
        if self.maybe(0.5, "interruptions"):
            team["interruptions"] = [self.interruption() for _ in range(self.rng.randint(1, 2))]
        if self.has_site and self.maybe(0.6, "walks"):
            team |= {"place": "den", "walks": True}
        return team

    # The streams

    def stream(self, number: int, to: str) -> Part:
        kind = self.among("random", "random", "random", "chance", "profile", "exact", "appointments", "dates")
        stream: Part = {"id": f"in{number}", "name": f"In {number}", "to": to, "kind": kind, "limit": 18}
        stream["mix"] = [{"type": "usual", "share": 0.7}, {"type": "urgent", "share": 0.3}]
        if kind == "random":
            stream["gap"] = self.time(3, 9)
        elif kind == "chance":
            stream |= {"kind": "random", "chance": {"every": self.minutes(3, 6), "probability": 0.4}}
        elif kind in ("profile", "exact"):
            week = {day: [0.0] * 16 + [2.0, 3.5, 0.5, 2.5, 4.0] for day in DAYS}
            spread = "poisson" if kind == "profile" else "exact"
            stream |= {"kind": "profile", "interval": "30 min", "week": week, "spread": spread}
        elif kind == "appointments":
            slots = {"days": DAYS, "from": self.among("08:00", "22:00"), "to": "10:00", "every": self.minutes(8, 15)}
            stream |= {"sessions": [slots | {"places": self.rng.randint(1, 2)}], "filled": 0.9, "no_show": 0.1}
            if self.maybe(0.6):
                stream["punctuality"] = {"dist": "uniform", "low": "-6 min", "high": "4 min"}
        else:
            moments = [f"2027-03-01T{self.rng.randint(8, 10):02}:{self.rng.randint(0, 59):02}:13" for _ in range(8)]
            stream["arrivals"] = [
                {"at": at} | ({"type": "urgent", "traits": {"size": 3}} if self.maybe(0.3) else {}) for at in moments
            ]
        if self.maybe(0.15, "mix-by-hour"):
            late = [{"type": "urgent", "share": 1.0}]
            stream["mix_by_hour"] = [
                {"from": self.among("09:00", "23:00"), "to": self.among("10:00", "08:30"), "mix": late}
            ]
        if self.maybe(0.2, "group"):
            stream["group"] = self.among({"dist": "poisson", "mean": 2}, 2)
        if self.maybe(0.15, "stream-open"):
            stream["open"] = self.calendar()
        if self.maybe(0.15, "first-last"):
            stream |= {"first": "2027-03-01T08:10", "last": "2027-03-01T10:10"}
        if self.maybe(0.2):
            stream["traits"] = {"size": self.among(1, {"dist": "uniform", "low": 0, "high": 5})}
        return stream

    # The whole

    def deadline(self) -> Part:
        ids = [step["id"] for step in self.steps if step["kind"] != "join"]
        then = {"send": "errand"} if self.maybe(0.6) else {"divert": "gone"}
        if "send" in then and self.maybe(0.5):
            then["every"] = self.minutes(20, 60)
        deadline: Part = {
            "id": "late",
            "name": "Late",
            "from": self.rng.choice(ids),
            "to": self.rng.choice([*ids, "out"]),
        }
        return deadline | {"within": self.minutes(3, 25), "then": then}

    def make_errand(self) -> None:
        """Make the way of a companion, which may part too."""
        if not self.maybe(0.3, "errand-parts"):
            self.steps.append(self.serve("errand", "gone", [{"team": "clerks"}]))
            return
        self.steps.append(self.serve("errand", "errand-parts", [{"team": "clerks"}]))
        ways = [{"to": "errand-1"}, {"to": "errand-2"}]
        self.steps.append(self.plain("errand-parts", "fork", "", next=ways, join="errand-ends"))
        ends = [{"to": "errand-ends", "share": 0.5}, {"to": "gone", "share": 0.5}]
        self.steps += [self.serve(way["to"], "", [{"team": "clerks"}]) | {"next": ends} for way in ways]
        self.steps.append(self.plain("errand-ends", "join", "gone"))

    def study(self) -> Part:
        """Return the document."""
        self.aside = "gone"
        count = self.rng.randint(1, 3)
        names = [self.name() for _ in range(count)] + ["out"]
        for name, to in pairwise(names):
            self.stretch(name, to)
        self.make_errand()
        streams = [self.stream(number, names[0]) for number in range(self.rng.randint(1, 2))]
        run: Part = {"length": self.among("4 h", "7 h", "1 d"), "replications": 1, "seed": self.seed}
        if self.maybe(0.2, "until"):
            run["until"] = self.among({"empty": True}, {"completed": 10})
        if self.maybe(0.2, "doors"):
            run["doors"] = self.calendar()
        if self.maybe(0.15, "warm-up"):
            run["warm_up"] = self.minutes(20, 90)
        document: Part = {
            "name": f"Study {self.seed}",
            "start": self.among("2027-03-01T08:00", "2027-03-01T08:00", "2027-03-01T08:25"),
            "case_types": [
                {"id": "usual", "name": "Usual", "waiting_cost": 3.0, "value": 10.0},
                {"id": "urgent", "name": "Urgent", "priority": 2, "due": "20 min", "traits": {"size": 4}},
            ],
            "traits": [
                {"id": "size", "name": "Size", "start": self.among(1, {"dist": "uniform", "low": 0, "high": 5})},
                {
                    "id": "sort", "name": "Sort", "kind": "category", "values": ["small", "big"],
                    "start": {"shares": {"small": 0.5, "big": 0.5}},
                },
            ],
            "streams": streams,
            "teams": [self.nurses(), self.clerks(), {"id": "rooms", "name": "Rooms", "kind": "places", "size": 2}],
            "run": run,
        }  # fmt: skip
        if self.maybe(0.35, "deadlines"):
            document["deadlines"] = [self.deadline()]
            if "every" in document["deadlines"][0]["then"] and run["length"] == "1 d":
                run["length"] = "7 h"  # of companions that nobody serves there would be thousands
        exits = [
            {"id": "out", "name": "Out", "kind": "exit"},
            {"id": "gone", "name": "Gone", "kind": "exit", "abandoned": True},
        ]
        document["steps"] = [*self.steps, *exits]
        if self.has_site:
            room = {"capacity": self.rng.randint(1, 3)} if self.maybe(0.5, "capacity") else {}
            document["site"] = {"places": [
                {"id": "hall", "name": "Hall", "x": 0, "y": 0} | room,
                {"id": "yard", "name": "Yard", "x": 61.3, "y": 17.7},
                {"id": "den", "name": "Den", "x": 20.9, "y": 33.1},
            ], "distance": self.among("straight", "rectangular")}  # fmt: skip
        if self.calendars:
            document["calendars"] = self.calendars
        if self.maybe(0.25, "overtime"):
            self.rng.choice(document["teams"][0]["roster"])["overtime"] = "45 min"
        return document


def study(seed: int, without: frozenset[str] = frozenset()) -> Part:
    """Return the study of a seed."""
    return Maker(seed, without).study()
