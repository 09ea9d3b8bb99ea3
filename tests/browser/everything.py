"""A study in which every key is used once, for the test that each of them can be edited."""

from typing import Any

WEEKDAYS = ["mon", "tue", "wed", "thu", "fri"]

NUMBERS: list[Any] = [
    {"dist": "exponential", "mean": 3},
    {"dist": "uniform", "low": 1, "high": 4},
    {"dist": "triangular", "low": 1, "mode": 2, "high": 4},
    {"dist": "pert", "low": 1, "mode": 2, "high": 4},
    {"dist": "normal", "mean": 8, "sd": 2},
    {"dist": "lognormal", "mean": 8, "sd": 2},
    {"dist": "gamma", "mean": 8, "sd": 2},
    {"dist": "erlang", "mean": 8, "k": 3},
    {"dist": "weibull", "scale": 8, "shape": 1.5},
    {"dist": "beta", "low": 1, "high": 9, "mean": 4, "sd": 1.5},
    {"dist": "discrete", "values": [1, 2], "weights": [3, 4]},
    {"dist": "empirical", "values": [1, 2, 5]},
    {"dist": "poisson", "mean": 3},
]
TIMED = [each for each in NUMBERS if each["dist"] != "poisson"]


def as_times(shape: dict[str, Any]) -> dict[str, Any]:
    plain = ("dist", "k", "shape", "weights")

    def timed(value: Any) -> Any:
        return [timed(each) for each in value] if isinstance(value, list) else f"{value} min"

    return {key: value if key in plain else timed(value) for key, value in shape.items()}


OFFSETS = [
    {"dist": "uniform", "low": "-5 min", "high": "5 min"},
    {"dist": "triangular", "low": "-5 min", "mode": "0 min", "high": "5 min"},
    {"dist": "normal", "mean": "-3 min", "sd": "5 min"},
    {"dist": "discrete", "values": ["-5 min", "0 min"], "weights": [1, 2]},
    {"dist": "empirical", "values": ["-5 min", "0 min", "2 min"]},
]


BUSY = {"any": [{"fact": "line:desk", "is": "over", "value": 1}, {"fact": "free:clerks", "is": "equal", "value": 0}]}


def limited() -> dict[str, Any]:
    """Return a question to right-sizing that uses every limit."""
    lunch = {"name": "Lunch", "length": "30 min", "from": "3 h", "to": "4 h", "paid": False}
    ranged = {"lengths": ["6 h", "8 h"], "from": "07:00", "to": "11:00", "every": "60 min"}
    listed = {"lengths": ["8 h"], "starts": ["06:00", "14:00"]}
    return {
        "id": "all",
        "name": "All limits",
        "teams": [
            {
                "team": "clerks",
                "people": {"low": 1, "high": 9},
                "shifts": [ranged | {"days": ["mon", "tue"], "breaks": [lunch]}, listed],
                "days": 4,
                "in_a_row": 3,
                "off_together": True,
                "hours": "38 h",
                "overtime": "4 h",
                "rest": "12 h",
                "kinds": [{"name": "Half", "people": 2, "days": 3, "hours": "20 h", "shifts": [ranged]}],
                "fixed": [{"days": ["mon"], "from": "08:00", "to": "12:00", "people": 1}],
                "cost": 40,
            }
        ],
        "targets": [
            {"figure": "type/all/completed", "at_least": 5, "at_most": 500, "per": "week", "by": "day", "sure": 0.9}
        ],
        "seed": 7,
    }


def everything() -> dict[str, Any]:
    """Return the study."""
    rule = {
        "all": [
            {"fact": "type", "is": "equal", "value": "a"},
            {
                "any": [
                    {"fact": "in-system", "is": "over", "value": "30 min"},
                    {"fact": "line:desk", "is": "under", "value": 3},
                ]
            },
        ]
    }
    common: dict[str, Any] = {
        "mix": [{"type": "a", "share": 0.5}, {"type": "b", "share": 0.5}],
        "to": "desk",
        "open": "doors",
        "first": "2027-03-02T08:00",
        "last": "2027-12-01T08:00",
        "limit": 500,
        "group": 2,
        "mix_by_hour": [{"from": "12:00", "to": "14:00", "mix": [{"type": "a", "share": 1}]}],
        "traits": {"size": 3},
    }
    hours = [{"days": WEEKDAYS, "from": "08:00", "to": "16:00"}]
    slots = [{"days": WEEKDAYS, "from": "09:00", "to": "12:00", "every": "20 min", "places": 2}]
    streams: list[dict[str, Any]] = [
        {"id": "in", "name": "In", "kind": "random", "gap": as_times(TIMED[0]), **common},
        {
            "id": "by-chance",
            "name": "By chance",
            "kind": "random",
            "chance": {"every": "10 min", "probability": 0.5},
            **common,
        },
        {
            "id": "profile",
            "name": "Profile",
            "kind": "profile",
            "interval": "60 min",
            "spread": "exact",
            **common,
            "week": {"mon": [0] * 8 + [3, 4]},
        },
        {
            "id": "dates",
            "name": "Dates",
            "kind": "dates",
            "arrivals": [{"at": "2027-03-02T09:00", "type": "a", "traits": {"size": 2}}],
            **common,
        },
    ]
    for number, offset in enumerate(OFFSETS):
        booked = {"sessions": slots, "filled": 0.9, "no_show": 0.1, "punctuality": offset}
        streams.append(
            {"id": f"booked-{number}", "name": f"Booked {number}", "kind": "appointments", **booked, **common}
        )
    extra = {"open": "doors", "overtime": "no", "cost": 2, "value": "adds", "checkpoint": True}
    steps: list[dict[str, Any]] = [
        {
            "id": "desk",
            "name": "Desk",
            "kind": "serve",
            "place": "hall",
            **extra,
            "work": {"by_trait": {"speed": {"slow": "9 min"}}, "by_type": {"a": "5 min"}, "otherwise": "7 min"},
            "needs": [
                {"team": "clerks", "count": 2, "as": "clerk", "keep_until": "fork"},
                {"skill": "reading", "prefer": ["readers"], "as": "reader"},
            ],
            "line": {
                "discipline": "priority",
                "max": 20,
                "when_full": "turn-away",
                "full_to": "left",
                "balk_at": 12,
                "balks_to": "left",
                "min_wait": "1 min",
                "patience": "30 min",
                "gives_up_to": "left",
                "shared": "hall-room",
            },
            "changeover": "2 min",
            "changeover_cost": 3,
            "when_blocked": "keeps-people",
            "reserve": True,
            "preempts": True,
            "priority": 2,
            "next": [
                {"to": "rules", "share": 0.6, "travel": "2 min", "escort": {"team": "clerks", "count": 2}},
                {"to": "signal-at", "share": 0.4},
            ],
        },
        {
            "id": "rules",
            "name": "Rules",
            "kind": "choose",
            "pick": "rule",
            "next": [{"to": "fork", "when": rule}, {"to": "signal-at", "otherwise": True}],
        },
        {
            "id": "fork",
            "name": "Fork",
            "kind": "fork",
            "join": "join",
            "next": [{"to": "branch-1", "chance": 0.5}, {"to": "branch-2"}],
        },
        {
            "id": "branch-1",
            "name": "Branch 1",
            "kind": "serve",
            "work": "2 min",
            "needs": [{"team": "clerks", "same_as": "clerk"}],
            "places": [{"place": "hall", "share": 0.5}, {"place": "yard", "share": 0.5}],
            "pick_place": "share",
            "next": [{"to": "join"}],
        },
        {"id": "branch-2", "name": "Branch 2", "kind": "delay", "time": "3 min", **extra, "next": [{"to": "join"}]},
        {"id": "join", "name": "Join", "kind": "join", "checkpoint": True, "next": [{"to": "signal-at"}]},
        {"id": "join-2", "name": "Other join", "kind": "join", "next": [{"to": "signal-at"}]},
        {
            "id": "signal-at",
            "name": "At times",
            "kind": "signal",
            "clears": {"at": ["12:00", "15:00"]},
            "lets_go": 5,
            **{key: value for key, value in extra.items() if key != "overtime"},
            "next": [{"to": "signal-every"}],
        },
        {
            "id": "signal-every",
            "name": "Every",
            "kind": "signal",
            "clears": {"every": "10 min", "first": "5 min"},
            "next": [{"to": "signal-after"}],
        },
        {
            "id": "signal-after",
            "name": "After",
            "kind": "signal",
            "clears": {"after_step": "branch-2"},
            "next": [{"to": "signal-waiting"}],
        },
        {
            "id": "signal-waiting",
            "name": "Waiting",
            "kind": "signal",
            "clears": {"waiting": 4},
            "next": [{"to": "signal-message"}],
        },
        {
            "id": "signal-message",
            "name": "Message",
            "kind": "signal",
            "clears": {"message": "branch-2", "also": ["branch-1"]},
            "next": [{"to": "gather"}],
        },
        {
            "id": "gather",
            "name": "Gather",
            "kind": "gather",
            "count": 3,
            "or_after": "20 min",
            "next": [{"to": "scatter"}],
        },
        {"id": "scatter", "name": "Scatter", "kind": "scatter", "next": [{"to": "set"}]},
        {
            "id": "set",
            "name": "Set",
            "kind": "set",
            "traits": {"size": {"add": 2}, "speed": {"shares": {"slow": 0.5, "quick": 0.5}}},
            "next": [{"to": "parts"}],
        },
        {
            "id": "parts",
            "name": "Parts",
            "kind": "choose",
            "next": [
                {"to": "time-0", "share_by_type": {"a": 0.5, "b": 0.2}},
                {"to": "out", "share_by_type": {"a": 0.5, "b": 0.8}},
            ],
        },
    ]
    for number, shape in enumerate(TIMED):
        onward = f"time-{number + 1}" if number + 1 < len(TIMED) else "out"
        step = {"id": f"time-{number}", "name": f"Time {number}", "kind": "delay", "time": as_times(shape)}
        steps.append({**step, "next": [{"to": onward}]})
    steps += [
        {"id": "out", "name": "Out", "kind": "exit", "penalty": 4},
        {"id": "left", "name": "Left", "kind": "exit", "abandoned": True},
    ]
    traits: list[dict[str, Any]] = [
        {"id": "size", "name": "Size", "kind": "number", "start": 1},
        {"id": "speed", "name": "Speed", "kind": "category", "values": ["slow", "quick"], "start": "slow"},
    ]
    traits += [
        {"id": f"number-{number}", "name": f"Number {number}", "kind": "number", "start": shape}
        for number, shape in enumerate(NUMBERS)
    ]
    for step in steps:
        if "places" not in step:
            step |= {"place": "hall", "checkpoint": True}
    return {
        "name": "Everything",
        "start": "2027-03-01T08:00",
        "calendars": [
            {
                "id": "doors",
                "name": "Doors",
                "weekly": [*hours, {"days": ["sat"], "from": "09:00", "to": "12:00"}],
                "closed": ["2027-04-02"],
                "open": [{"date": "2027-04-03", "from": "10:00", "to": "11:00"}],
            }
        ],
        "skills": [{"id": "reading", "name": "Reading aloud"}],
        "case_types": [
            {
                "id": "a",
                "name": "A",
                "colour": 1,
                "priority": 2,
                "due": "2 h",
                "value": 5,
                "waiting_cost": 3,
                "inside_cost": 1.5,
                "traits": {"speed": "quick"},
            },
            {"id": "b", "name": "B", "colour": 2},
        ],
        "traits": traits,
        "streams": streams,
        "steps": steps,
        "deadlines": [
            {"id": "late", "name": "Late", "from": "desk", "to": "fork", "within": "1 h", "then": {"divert": "left"}},
            {
                "id": "told",
                "name": "Told",
                "from": "desk",
                "to": "fork",
                "within": "1 h",
                "then": {"send": "branch-1", "every": "2 h"},
            },
        ],
        "spans": [{"id": "all", "name": "All", "from": {"step": "desk", "at": "leaving"}, "to": {"step": "gather"}}],
        "measures": [
            {"id": "soon", "name": "Soon", "share": {"of": "step/desk", "where": BUSY}},
            {"id": "many", "name": "Many", "count": {"of": "type/all", "where": BUSY}},
            {"id": "way", "name": "Way", "time": {"from": {"step": "desk"}, "to": {"step": "desk", "at": "leaving"}}},
            {"id": "line", "name": "Line", "level": {"of": "step/desk/line", "where": BUSY, "statistic": "max"}},
        ],
        "drawing": {"file": "drawn.bpmn", "lines": ["<definitions/>"], "answers": {"A:How often?": 0.5}},
        "sources": {
            "/teams/clerks/name": {"file": "kiosk.csv", "rows": 12, "date": "2027-02-01", "method": "by hand"},
        },
        "board": ["type/all/wait/mean"],
        "levers": [
            {"id": f"lever-{number}", "name": f"Lever {number}", "sets": ["/teams/clerks/size"], "values": [1, 2]}
            for number in range(2)
        ],
        "sizing": [limited(), {"id": "levers", "name": "Levers", "levers": ["lever-0"]}],
        "teams": [
            {
                "id": "clerks",
                "name": "Clerks",
                "kind": "equipment",
                "size": 4,
                "pace": 1.2,
                "rate": 20,
                "paid": "used",
                "use_cost": 3,
                "overtime": 2.5,
                "picks": "listed",
                "place": "hall",
                "walks": True,
            },
            {
                "id": "agents",
                "name": "Agents",
                "skills": ["reading"],
                "closed": ["2027-05-01", "2027-12-24"],
                "absence": 0.05,
                "absence_paid": True,
                "at_break": "pause",
                "at_shift_end": "hand-over",
                "closing": {"stay": "clear-line", "at_most": "1 h"},
                "roster": [
                    {
                        "days": WEEKDAYS,
                        "from": "08:00",
                        "to": "16:00",
                        "people": 4,
                        "overtime": "1 h",
                        "from_date": "2027-03-01",
                        "to_date": "2027-12-31",
                        "breaks": [
                            {"name": "Tea", "after": "2 h", "length": "15 min", "taken": "spread", "within": "1 h"},
                            {"at": "12:00", "length": "30 min", "taken": "in-turn", "paid": False},
                        ],
                    },
                    {"days": ["sat"], "from": "22:00", "to": "02:00", "people": 1},
                ],
                "interruptions": [
                    {
                        "name": "Call",
                        "after": {"clock": "45 min"},
                        "length": "3 min",
                        "strikes": "each",
                        "work": "finish",
                    },
                    {"name": "Repair", "after": {"working": "9 h"}, "length": "30 min", "strikes": "team"},
                    {"name": "Paper", "after": {"cases": 50}, "length": "2 min", "strikes": "team"},
                ],
            },
            {"id": "readers", "name": "Readers", "size": 2, "skills": ["reading"]},
            {"id": "others", "name": "Others", "size": 2, "skills": ["reading"]},
        ],
        "site": {
            "places": [
                {"id": "hall", "name": "Hall", "capacity": 30, "x": 0, "y": 0},
                {"id": "yard", "name": "Yard", "x": 9, "y": 9},
            ]
        },
    }
