"""Random studies of all that BPMN and BPSim can say."""

import random
from typing import Any

from tests.flowcore.builders import Part

TIMES: list[Any] = [
    "8 min",
    "90 s",
    "1.5 h",
    "2 d",
    {"dist": "exponential", "mean": "7 min"},
    {"dist": "uniform", "low": "1 h", "high": "2.5 h"},
    {"dist": "triangular", "low": "3 min", "mode": "5 min", "high": "9 min"},
    {"dist": "normal", "mean": "20 s", "sd": "4 s"},
    {"dist": "lognormal", "mean": "8 min", "sd": "4 min"},
    {"dist": "gamma", "mean": "6 min", "sd": "3 min"},
    {"dist": "erlang", "mean": "9 min", "k": 3},
    {"dist": "weibull", "scale": "5 min", "shape": 1.5},
    {"dist": "discrete", "values": ["1 min", "4 min"], "weights": [0.25, 0.75]},
    {"dist": "empirical", "values": ["1 min", "2 min", "2.5 min", "7 min"]},
]
SORT: Part = {"shares": {"big": 0.3, "small": 0.7}}
NUMBERS: list[Any] = [3, {"dist": "uniform", "low": 0, "high": 4}, {"dist": "poisson", "mean": 2.5}]


class Sayable:
    """Puts a study together by a seed: a way through stretches, from streams to exits."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)
        self.steps: list[Part] = []
        self.deadlines: list[Part] = []
        self.named = 0

    def study(self) -> Part:
        """Return the study as a document."""
        last = self.exit("Served")
        first = self.way(last, 3)
        document: Part = {"name": "A way", "start": "2027-03-01T08:00", "steps": self.steps, "run": self.run()}
        if self.rng.random() < 0.4:
            document["about"] = "What is asked: who waits, and why?"
        teams = [self.team("clerks", ["desk"]), self.team("nurses", []), self.team("rooms", ["desk"])]
        return document | {
            "calendars": [self.calendar()],
            "case_types": [
                {"id": "usual", "name": "Usual", "colour": 1},
                {"id": "urgent", "name": "Urgent one", "colour": 2},
            ],
            "traits": [
                {"id": "size", "name": "Size", "kind": "number", "start": self.rng.choice(NUMBERS)},
                {"id": "sort", "name": "Sort", "kind": "category", "values": ["big", "small", "odd"], "start": SORT},
            ],
            "streams": [self.stream(number, first) for number in range(self.rng.randint(1, 2))],
            "teams": teams,
            "skills": [{"id": "desk", "name": "Desk"}],
            "scenarios": self.scenarios(teams),
            **({"deadlines": self.deadlines} if self.deadlines else {}),
        }

    def scenarios(self, teams: list[Part]) -> list[Part]:
        """Return two scenarios: other work at a step, and a team that costs more."""
        busy = [step["id"] for step in self.steps if step["kind"] == "serve" and step["work"] != "7 min"]
        work = [{"op": "replace", "path": f"/steps/{each}/work", "value": "7 min"} for each in busy[:1]]
        op = "replace" if "rate" in teams[0] else "add"
        dearer = [{"op": op, "path": "/teams/clerks/rate", "value": 75.5}]
        plain = {"id": "other-work", "name": "Other work", "changes": work}
        return [plain, {"id": "dear", "name": "Dear", "changes": dearer}]

    def run(self) -> Part:
        """Return run settings."""
        return {"length": self.rng.choice(["2 d", "9 h"]), "warm_up": "30 min", "replications": 3, "seed": 5}

    def calendar(self) -> Part:
        """Return opening hours, with dates of their own at times."""
        weekly = [
            {"days": ["mon", "tue"], "from": "08:00", "to": "12:30"},
            {"days": ["fri"], "from": "22:00", "to": "24:00"},
        ]
        dated = {"closed": ["2027-03-02"], "open": [{"date": "2027-03-06", "from": "09:00", "to": "10:00"}]}
        return {"id": "doors", "name": "Doors", "weekly": weekly} | self.rng.choice([{}, dated])

    def stream(self, number: int, first: str) -> Part:
        """Return a stream of random arrivals."""
        more: Part = self.rng.choice([{}, {"open": "doors"}, {"limit": 40}, {"traits": {"size": 2, "sort": "big"}}])
        mix = [{"type": "usual", "share": 0.75}, {"type": "urgent", "share": 0.25}]
        gap = self.rng.choice([{"dist": "exponential", "mean": "9 min"}, "15 min"])
        common = {"id": f"stream-{number}", "name": f"Stream {number}", "kind": "random", "gap": gap, "to": first}
        only = [{"type": "usual", "share": 1.0}]
        return common | more | {"mix": self.rng.choice([mix, only])}

    def team(self, name: str, skills: list[str]) -> Part:
        """Return a team with a size or a roster."""
        shift = {"days": ["mon", "wed"], "from": "08:00", "to": "16:00", "people": 2}
        night = {
            "days": ["sat"],
            "from": "22:00",
            "to": "06:00",
            "people": 3,
            "from_date": "2027-03-06",
            "overtime": "1 h",
        }
        with_break = shift | {"breaks": [{"after": "2 h", "length": "20 min"}]}
        staff: Part = self.rng.choice(
            [{"size": 2}, {"roster": [with_break, night]}, {"roster": [shift], "closed": ["2027-03-03"]}]
        )
        costs: Part = self.rng.choice([{}, {"rate": 24.5}, {"rate": 19, "use_cost": 1.25}])
        return {"id": name, "name": name.capitalize()} | staff | costs | ({"skills": skills} if skills else {})

    def fresh(self) -> str:
        """Return an id that nothing has yet."""
        self.named += 1
        return f"s{self.named}"

    def add(self, kind: str, to: str | list[Part] | None, **more: Any) -> str:
        """Add a step and return its id."""
        step_id = self.fresh()
        links = [{"to": to}] if isinstance(to, str) else to
        self.steps.append(
            {"id": step_id, "name": f"Step {step_id}", "kind": kind} | more | ({"next": links} if links else {})
        )
        return step_id

    def exit(self, name: str) -> str:
        """Add an exit."""
        step_id = self.fresh()
        self.steps.append({"id": step_id, "name": name, "kind": "exit"} | self.rng.choice([{}, {"abandoned": True}]))
        return step_id

    def way(self, to: str, depth: int) -> str:
        """Return where a way of some stretches begins that leads to a step."""
        for _ in range(self.rng.randint(1, 3)):
            to = self.stretch(to, depth)
        return to

    def stretch(self, to: str, depth: int) -> str:
        """Return where one stretch begins."""
        makers = [self.serve, self.serve, self.delay, self.signal, self.set_traits, self.travelled]
        if depth > 0:
            makers += [self.parts, self.rule, self.fork, self.loop, self.watched, self.messages, self.leaves]
        maker: Any = self.rng.choice(makers)
        return str(maker(to) if maker in makers[:6] else maker(to, depth - 1))

    def serve(self, to: str) -> str:
        """Add work."""
        needs: list[Part] = self.rng.choice(
            [
                [],
                [{"team": "clerks"}],
                [{"skill": "desk", "count": 2}],
                [{"team": "nurses"}, {"team": "rooms", "count": 2}],
            ]
        )
        more: Part = self.rng.choice([{}, {"cost": 2.5}, {"open": "doors"}, {"priority": -1.5}])
        return self.add("serve", to, work=self.rng.choice(TIMES), **({"needs": needs} if needs else {}), **more)

    def delay(self, to: str) -> str:
        """Add a time that passes."""
        return self.add("delay", to, time=self.rng.choice(TIMES))

    def signal(self, to: str) -> str:
        """Add a signal that clears every so often, or when a step ends."""
        after = [step["id"] for step in self.steps if step["kind"] in ("serve", "choose", "delay")]
        clears: list[Part] = [{"every": "20 min"}] + [{"after_step": each} for each in after[:1]]
        return self.add("signal", to, clears=self.rng.choice(clears))

    def set_traits(self, to: str) -> str:
        """Add a step that writes traits."""
        sort: Part = {"sort": {"shares": {"big": 0.5, "small": 0.5}}}
        return self.add("set", to, traits=self.rng.choice([{"size": {"add": 1}}, {"size": 4}, sort]))

    def travelled(self, to: str) -> str:
        """Add work from which a way takes time."""
        return self.add(
            "serve", [{"to": to, "travel": self.rng.choice(TIMES)}], work="3 min", needs=[{"team": "clerks"}]
        )

    def parts(self, to: str, depth: int) -> str:
        """Let ways part by shares."""
        ends = [self.way(to, depth), self.exit("Left") if self.rng.random() < 0.4 else self.way(to, depth)]
        ways = [{"to": ends[0], "share": 0.7}, {"to": ends[1], "share": 0.3}]
        if self.rng.random() < 0.5:
            return self.add("serve", ways, work="4 min", needs=[{"team": "nurses"}])
        return self.add("choose", ways)

    def rule(self, to: str, depth: int) -> str:
        """Let ways part by a rule."""
        facts: list[Part] = [
            {"fact": "type", "is": "equal", "value": "urgent"},
            {"fact": "trait:size", "is": "at-least", "value": 2},
            {"fact": "trait:sort", "is": "not", "value": "big"},
            {"fact": "waited", "is": "over", "value": "10 min"},
            {"fact": "time-of-day", "is": "under", "value": "12:00"},
        ]
        one, two = self.rng.sample(facts, 2)
        rule: Part = self.rng.choice([{"all": [one]}, {"any": [one, two]}, {"all": [one, {"any": [two, one]}]}])
        ways = [{"to": self.way(to, depth), "when": rule}, {"to": self.way(to, depth), "otherwise": True}]
        if self.rng.random() < 0.3:
            return self.add("delay", ways, time="7 min")
        return self.add("choose", ways, pick="rule")

    def fork(self, to: str, depth: int) -> str:
        """Go along several ways at once."""
        join = self.add("join", to)
        ways: list[Part] = [{"to": self.way(join, depth)}, {"to": self.way(join, depth)}]
        if self.rng.random() < 0.5:
            ways[1]["chance"] = 0.4
            ways[0] |= self.rng.choice([{}, {"chance": 0.9}])
        return self.add("fork", ways, join=join)

    def loop(self, to: str, depth: int) -> str:
        """Do something again at times."""
        again = self.add("choose", [{"to": "?", "share": 0.25}, {"to": to, "share": 0.75}])
        place = len(self.steps) - 1
        first = self.way(again, depth)
        self.steps[place]["next"][0]["to"] = first
        return first

    def watched(self, to: str, depth: int) -> str:
        """Add work with a deadline that reminds or diverts."""
        after = self.add("choose", to)
        host = self.serve(after)
        aside = self.way(self.exit("Late") if self.rng.random() < 0.5 else to, depth)
        then: Part = self.rng.choice(
            [{"send": aside}, {"divert": aside}, {"send": aside, "every": "5 min"}, {"send": aside, "every": "15 min"}]
        )
        deadline = {"id": f"late-{host}", "name": "Late", "from": host, "to": after, "within": "15 min", "then": then}
        self.deadlines.append(deadline)
        return host

    def messages(self, to: str, depth: int) -> str:
        """Let a case wait for one of two messages that a branch sends."""
        join = self.add("join", to)
        after = self.add("choose", join)
        waits = self.add("signal", after, clears={})
        tells = [self.add("choose", join), self.serve(join)]
        signal = next(step for step in self.steps if step["id"] == waits)
        signal["clears"] = {"message": tells[0], "also": [tells[1]]}
        if self.rng.random() < 0.5:
            aside = self.way(join, depth)
            self.deadlines.append(
                {
                    "id": f"late-{waits}",
                    "name": "No answer",
                    "from": waits,
                    "to": after,
                    "within": "2 h",
                    "then": {"divert": aside},
                }
            )
        sends = self.add("choose", [{"to": tells[0], "share": 0.5}, {"to": tells[1], "share": 0.5}])
        return self.add("fork", [{"to": waits}, {"to": self.way(sends, depth)}], join=join)

    def leaves(self, to: str, depth: int) -> str:
        """Let a partner go on by itself, for whom the case does not wait."""
        over = self.exit("Partner gone")
        join = self.add("join", over)
        return self.add("fork", [{"to": to}, {"to": self.way(join, 0)}], join=join)
