"""What trials teach about guesses: how much worse a target is kept, and how much dearer all is, for the harm guessed."""

from collections.abc import Sequence

import numpy as np

from flowcore.sizing.neighbours import Neighbour

LAST = 60
"""So many of the last trials are learnt from."""
SOME = 1.0
"""Of a guess of so little harm nothing can be learnt."""
FAR = 0.05
"""Nor of a trial that keeps its targets by so much worse, or better."""


class Experience:
    """Learns from trials, and tells which neighbours promise most."""

    def __init__(self) -> None:
        self._of_margin: list[float] = []
        self._of_cost: list[float] = []

    def learn(self, neighbour: Neighbour, lost: float, dearer: float) -> None:
        """Take in by how much a neighbour that was tried keeps its targets worse, and how much dearer it is."""
        if abs(neighbour.harm) >= SOME and abs(lost) < FAR:
            self._of_margin.append(lost / neighbour.harm)
            self._of_cost.append((dearer + neighbour.saves) / neighbour.harm)

    def promising(self, neighbours: Sequence[Neighbour], margin: float) -> list[Neighbour]:
        """Return neighbours that should save, in order: those that should hold by what they save, then the others.

        `margin` is that by which the plan next to them keeps its targets.
        """
        slope, price = _middle(self._of_margin), max(0.0, _middle(self._of_cost))
        able = [each for each in neighbours if each.saves > 0]
        if slope <= 0:
            return sorted(able, key=lambda each: each.harm / each.saves)
        guessed = [(each.saves - price * each.harm, margin - slope * each.harm, each) for each in able]
        holding = sorted((each for each in guessed if each[1] >= 0 < each[0]), key=lambda each: -each[0])
        others = [each for each in guessed if not each[1] >= 0 < each[0]]
        nearly = sorted(others, key=lambda each: each[2].harm / each[2].saves)
        return [neighbour for _, _, neighbour in [*holding, *nearly]]


def _middle(values: Sequence[float]) -> float:
    return float(np.median(values[-LAST:])) if values else 0.0
