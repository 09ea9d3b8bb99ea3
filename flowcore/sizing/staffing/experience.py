"""What trials teach about guesses: how much worse a target is kept, and how much dearer all is, for a guessed harm."""

from collections.abc import Sequence

import numpy as np

from flowcore.sizing.staffing.neighbours import Neighbour

LAST = 60
"""So many of the last trials are learnt from."""
SOME = 1.0
"""Of a guess of so little harm nothing can be learnt."""
FAR = 0.05
"""Nor of a trial that keeps its targets by so much worse, or better."""
LEARNT_FROM = 3
"""So many single changes of a team of which nothing is known are tried first."""


class Experience:
    """Learns from trials, team by team, and tells which neighbours promise most."""

    def __init__(self) -> None:
        self._of_margin: dict[str, list[float]] = {}
        self._of_cost: dict[str, list[float]] = {}

    def learn(self, neighbour: Neighbour, lost: float, dearer: float) -> None:
        """Take in by how much a neighbour that was tried keeps its targets worse, and how much dearer it is."""
        [team, *others] = neighbour.harms
        if not others and abs(neighbour.harm) >= SOME and abs(lost) < FAR:
            self._of_margin.setdefault(team, []).append(lost / neighbour.harm)
            self._of_cost.setdefault(team, []).append((dearer + neighbour.saves) / neighbour.harm)

    def promising(self, neighbours: Sequence[Neighbour], margin: float) -> list[Neighbour]:
        """Return neighbours that should save, in order: those that should hold by what they save, then the others.

        `margin` is that by which the plan next to them keeps its targets. Of teams of which nothing is known yet, those
        that do least harm for what they save come first of all.
        """
        able = [each for each in neighbours if each.saves > 0]
        by_harm = sorted(able, key=lambda each: each.harm / each.saves)
        unknown = {team for each in able for team in each.harms} - set(self._of_margin)
        to_learn = [each for team in sorted(unknown) for each in _of_one_team(by_harm, team)[:LEARNT_FROM]]
        guessed = [(each, *self._guess(each)) for each in able]
        holding = [(saves, each) for each, lost, saves in guessed if margin - lost >= 0 < saves]
        first = [each for _, each in sorted(holding, key=lambda pair: -pair[0])]
        known = {id(each) for each in [*to_learn, *first]}
        return _varied([*to_learn, *first, *(each for each in by_harm if id(each) not in known)])

    def _slope(self, team: str) -> float:
        """Return by how much worse the targets are kept for the harm guessed in a team."""
        return max(0.0, _middle(self._of_margin.get(team, self._all(self._of_margin))))

    def _guess(self, neighbour: Neighbour) -> tuple[float, float]:
        """Return by how much worse a neighbour may keep its targets, and what it may save."""
        lost, saves = 0.0, neighbour.saves
        for team, harm in neighbour.harms.items():
            lost += harm * self._slope(team)
            saves -= harm * max(0.0, _middle(self._of_cost.get(team, self._all(self._of_cost))))
        return lost, saves

    def _all(self, known: dict[str, list[float]]) -> list[float]:
        return [each for values in known.values() for each in values]


def _varied(neighbours: Sequence[Neighbour]) -> list[Neighbour]:
    """Return neighbours in turns: the first of each single change and of each pair's changes, then the second, …."""
    used: dict[int, int] = {}
    turns = []
    for each in neighbours:
        turns.append(max(used.get(id(change), 0) for change in each.changes))
        for change in each.changes:
            used[id(change)] = used.get(id(change), 0) + 1
    order = sorted(range(len(neighbours)), key=lambda n: (turns[n], n))
    return [neighbours[n] for n in order]


def _of_one_team(neighbours: Sequence[Neighbour], team: str) -> list[Neighbour]:
    return [each for each in neighbours if set(each.harms) == {team} and each.harm >= SOME]


def _middle(values: Sequence[float]) -> float:
    return float(np.median(values[-LAST:])) if values else 0.0
