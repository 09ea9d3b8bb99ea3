"""Small studies for the tests, each made from its parts."""

from collections.abc import Mapping
from typing import Any

import numpy as np

from flowcore.results.rows import Row, places_of
from flowcore.study import StudyDocument, read_study

Part = dict[str, Any]


def row(figures: Mapping[str, float]) -> Row:
    return Row(places_of(figures), np.array([*figures.values()]))


def exponential(minutes: float) -> Part:
    return {"dist": "exponential", "mean": f"{minutes} min"}


def serve(step_id: str, work: Any, team: str | None, ways: dict[str, float], **more: Any) -> Part:
    needs = [{"team": team}] if team else []
    links = [{"to": to, "share": share} for to, share in ways.items()]
    return {"id": step_id, "name": step_id.title(), "kind": "serve", "work": work, "needs": needs, "next": links} | more


def exit_step(step_id: str = "out", **more: Any) -> Part:
    return {"id": step_id, "name": step_id.title(), "kind": "exit"} | more


def stream(to: str, gap: Any, **more: Any) -> Part:
    return {"id": "cases", "name": "Cases", "kind": "random", "gap": gap, "to": to} | more


def document(steps: list[Part], teams: dict[str, int], gap: Any, **run: Any) -> Part:
    settings = {"length": "60 d", "warm_up": "2 d", "replications": 12, "seed": 11} | run
    return {
        "name": "Test",
        "streams": [stream(steps[0]["id"], gap)],
        "steps": steps,
        "teams": [{"id": team, "name": team.title(), "size": size} for team, size in teams.items()],
        "run": settings,
    }


def study(steps: list[Part], teams: dict[str, int], gap: Any, **run: Any) -> StudyDocument:
    return read_study(document(steps, teams, gap, **run))


def single_line(work: Any, servers: int, gap: float, **run: Any) -> StudyDocument:
    return study([serve("desk", work, "clerks", {"out": 1}), exit_step()], {"clerks": servers}, exponential(gap), **run)
