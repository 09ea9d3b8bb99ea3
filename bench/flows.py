"""The flows that are measured, each as a study and for the yardstick."""

from typing import Any

from bench.yardstick import Draw, Step, Team, Yardstick

Document = dict[str, Any]


def exponential(mean: float) -> Draw:
    """Return a draw of exponential times."""
    return lambda luck: luck.expovariate(1 / mean)


def three_servers(seed: int) -> Yardstick:
    """M/M/3 at a load of 0.8."""
    return Yardstick([Step(Team(3), exponential(2.4), [(1.0, None)])], exponential(1.0), seed)


def three_servers_study() -> Document:
    """The same as a study."""
    return _study(
        [_step("desk", 2.4, "clerks", [("out", 1.0)])],
        {"clerks": 3},
    )


FIVE_MEANS = (0.4, 2.0, 3.0, 1.5, 0.8)
FIVE_SIZES = (1, 3, 4, 2, 2)
BACK_SHARE = 0.1


def five_steps(seed: int) -> Yardstick:
    """Five steps in a row; a tenth goes back from the last to the second."""
    ways: list[list[tuple[float, int | None]]] = [[(1.0, number + 1)] for number in range(4)]
    ways.append([(BACK_SHARE, 1), (1.0, None)])
    steps = [
        Step(Team(size), exponential(mean), way) for mean, size, way in zip(FIVE_MEANS, FIVE_SIZES, ways, strict=True)
    ]
    return Yardstick(steps, exponential(1.0), seed)


def five_steps_study() -> Document:
    """The same as a study."""
    ways: list[list[tuple[str, float]]] = [[(f"s{number + 1}", 1.0)] for number in range(4)]
    ways.append([("s1", BACK_SHARE), ("out", 1 - BACK_SHARE)])
    steps = [
        _step(f"s{number}", mean, f"t{number}", way)
        for number, (mean, way) in enumerate(zip(FIVE_MEANS, ways, strict=True))
    ]
    return _study(steps, {f"t{number}": size for number, size in enumerate(FIVE_SIZES)})


def constant(minutes: float) -> Draw:
    """Return a draw that is always the same."""
    return lambda luck: minutes


def uniform(low: float, high: float) -> Draw:
    """Return a draw of times of which all between two are as likely."""
    return lambda luck: luck.uniform(low, high)


def triangular(low: float, mode: float, high: float) -> Draw:
    """Return a draw of triangular times."""
    return lambda luck: luck.triangular(low, high, mode)


SHARED_TEAMS = (0, 1, 2, 1, 0)
SHARED_SIZES = (2, 5, 4)


def shared_teams(seed: int) -> Yardstick:
    """Five steps of which two pairs share their teams, with constant, uniform, triangular times; a tenth goes back."""
    teams = [Team(size) for size in SHARED_SIZES]
    works = [constant(0.4), uniform(1.0, 3.0), triangular(1.0, 2.5, 5.5), uniform(0.5, 2.5), constant(0.8)]
    ways: list[list[tuple[float, int | None]]] = [[(1.0, number + 1)] for number in range(4)]
    ways.append([(BACK_SHARE, 1), (1.0, None)])
    steps = [Step(teams[team], work, way) for team, work, way in zip(SHARED_TEAMS, works, ways, strict=True)]
    return Yardstick(steps, exponential(1.0), seed)


def shared_teams_study() -> Document:
    """The same as a study."""
    study = five_steps_study()
    works: list[Any] = [
        "0.4 min",
        {"dist": "uniform", "low": "1 min", "high": "3 min"},
        {"dist": "triangular", "low": "1 min", "mode": "2.5 min", "high": "5.5 min"},
        {"dist": "uniform", "low": "0.5 min", "high": "2.5 min"},
        "0.8 min",
    ]
    for step, work, team in zip(study["steps"], works, SHARED_TEAMS, strict=False):
        step |= {"work": work, "needs": [{"team": f"t{team}"}]}
    study["teams"] = [{"id": f"t{n}", "name": f"t{n}", "size": size} for n, size in enumerate(SHARED_SIZES)]
    return study


def long_row_study(count: int) -> Document:
    """Return `count` steps in a row, each two with a team of four, at a load of 0.6."""
    steps = [_step(f"s{n}", 1.2, f"t{n // 2}", [(f"s{n + 1}" if n < count - 1 else "out", 1.0)]) for n in range(count)]
    return _study(steps, {f"t{n}": 4 for n in range((count + 1) // 2)})


def crowded_study(first_come: int) -> Document:
    """Return one desk by priority at a load of 0.95, with so many more there from the first minute."""
    study = _study(
        [_step("desk", 0.95, "clerks", [("out", 1.0)]) | {"line": {"discipline": "priority"}}], {"clerks": 1}
    )
    crowd = {"id": "crowd", "name": "Crowd", "kind": "random", "gap": "1 min", "to": "desk", "limit": first_come}
    study["streams"].append(crowd | {"group": first_come})
    study["case_types"] = [{"id": f"k{n}", "name": f"Kind {n}", "priority": n} for n in range(3)]
    for stream in study["streams"]:
        stream["mix"] = [{"type": "k0", "share": 0.4}, {"type": "k1", "share": 0.3}, {"type": "k2", "share": 0.3}]
    return study


SERVICE_MEANS = (0.5, 1.6, 3.6, 1.6, 0.8)
SERVICE_SIZES = (4, 12, 26, 12, 6)


def service_study() -> Document:
    """Return a service of 60 people in two shifts with breaks, with some 5,000 cases on each workday."""
    days = ["mon", "tue", "wed", "thu", "fri"]
    rest = {"after": "3 h", "length": "30 min", "taken": "spread", "within": "2 h"}
    ways: list[list[tuple[str, float]]] = [[(f"s{number + 1}", 1.0)] for number in range(4)]
    ways.append([("s1", BACK_SHARE), ("out", 1 - BACK_SHARE)])
    steps = [
        _step(f"s{number}", mean, f"t{number}", way)
        for number, (mean, way) in enumerate(zip(SERVICE_MEANS, ways, strict=True))
    ]
    study = _study(steps, {})
    hours = [("06:00", "14:00"), ("14:00", "22:00")]
    study["teams"] = [
        {
            "id": f"t{number}",
            "name": f"Team {number}",
            "rate": 30,
            "roster": [{"days": days, "from": a, "to": b, "people": people, "breaks": [rest]} for a, b in hours],
        }
        for number, people in enumerate(SERVICE_SIZES)
    ]
    study["streams"] = [
        {
            "id": "cases",
            "name": "Cases",
            "kind": "profile",
            "interval": "60 min",
            "week": {day: [0.0] * 6 + [330.0] * 15 for day in days},
            "to": "s0",
        }
    ]
    study["start"] = "2027-03-01T00:00"
    return study


def _step(step_id: str, mean: float, team: str, ways: list[tuple[str, float]]) -> Document:
    return {
        "id": step_id,
        "name": step_id,
        "kind": "serve",
        "work": {"dist": "exponential", "mean": f"{mean} min"},
        "needs": [{"team": team}],
        "next": [{"to": to, "share": share} for to, share in ways],
    }


def _study(steps: list[Document], sizes: dict[str, int]) -> Document:
    gap = {"dist": "exponential", "mean": "1 min"}
    return {
        "name": "Bench",
        "streams": [{"id": "cases", "name": "Cases", "kind": "random", "gap": gap, "to": steps[0]["id"]}],
        "steps": [*steps, {"id": "out", "name": "Out", "kind": "exit"}],
        "teams": [{"id": team, "name": team, "size": size} for team, size in sizes.items()],
    }
