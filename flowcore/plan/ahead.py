"""Which steps choose a case's ways ahead: those from which it may come, in no time, to a line that blocks it."""

from functools import cache

from flowcore.plan.layout import Layout
from flowcore.study.steps import Choose, Fork, Serve, SetTraits


class Ahead:
    """The steps of the plan that choose ahead, and the most ways that one of them chooses at once."""

    def __init__(self, layout: Layout) -> None:
        self._layout = layout
        self._leads_to_a_block = cache(self._find_block)
        self._ways = cache(self._count_ways)
        numbers = range(len(layout.steps))
        self.looking = {
            number for number in numbers if any(self._leads_to_a_block(to) for to in self._passages_after(number))
        }
        self.most = max((self._ways(number) for number in self.looking), default=0)

    def _passages_after(self, number: int) -> list[int]:
        """Return the steps that take no time to which ways lead from a step."""
        return [to for _, to in self._layout.links(number) if self._is_passage(to)]

    def _is_passage(self, number: int) -> bool:
        planned = self._layout.steps[number]
        return planned.escort is None and isinstance(planned.step, Choose | SetTraits | Fork)

    def _blocks(self, number: int) -> bool:
        planned = self._layout.steps[number]
        line = planned.step.line if isinstance(planned.step, Serve) and planned.escort is None else None
        return line is not None and line.max is not None and line.when_full == "block"

    def _find_block(self, number: int) -> bool:
        targets = [to for _, to in self._layout.links(number)]
        return any(self._leads_to_a_block(to) if self._is_passage(to) else self._blocks(to) for to in targets)

    def _count_ways(self, number: int) -> int:
        return 1 + max((self._ways(to) for to in self._passages_after(number)), default=0)
