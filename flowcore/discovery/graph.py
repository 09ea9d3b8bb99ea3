"""What directly follows what in the ways of cases, how often; and how such a graph falls apart."""

from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise

Trace = tuple[int, ...]
Traces = Counter[Trace]
"""The ways of cases by the places of their steps, and how many cases go each."""
Part = frozenset[int]


@dataclass(frozen=True)
class Follows:
    """Which steps there are, with which ways begin and end, and which directly follow each other, how often."""

    steps: Part
    starts: Counter[int]
    ends: Counter[int]
    edges: Counter[tuple[int, int]]

    @classmethod
    def of(cls, traces: Traces) -> "Follows":
        """Return what follows what in ways that have any step."""
        starts: Counter[int] = Counter()
        ends: Counter[int] = Counter()
        edges: Counter[tuple[int, int]] = Counter()
        for trace, many in traces.items():
            if trace:
                starts[trace[0]] += many
                ends[trace[-1]] += many
                for pair in pairwise(trace):
                    edges[pair] += many
        return cls(frozenset(step for trace in traces for step in trace), starts, ends, edges)

    def without_rare(self, noise: float) -> "Follows":
        """Return the same without what is rarer than a share of the most frequent that leads on from a step."""
        most: Counter[int] = Counter(self.ends)
        for (one, _), many in self.edges.items():
            most[one] = max(most[one], many)
        edges = Counter({pair: many for pair, many in self.edges.items() if many >= noise * most[pair[0]]})
        return Follows(self.steps, _frequent(self.starts, noise), _frequent(self.ends, noise), edges)

    def reachable(self) -> dict[int, set[int]]:
        """Return which steps are reached from each, over one edge or more."""
        onward: dict[int, set[int]] = defaultdict(set)
        for one, other in self.edges:
            onward[one].add(other)
        found = {}
        for step in self.steps:
            seen: set[int] = set()
            ahead = list(onward[step])
            while ahead:
                here = ahead.pop()
                if here not in seen:
                    seen.add(here)
                    ahead.extend(onward[here])
            found[step] = seen
        return found


def _frequent(counts: Counter[int], noise: float) -> Counter[int]:
    most = max(counts.values(), default=0)
    return Counter({step: many for step, many in counts.items() if many >= noise * most})


def components(steps: Iterable[int], pairs: Iterable[tuple[int, int]]) -> list[Part]:
    """Return the parts of steps that pairs, in either direction, hold together; that of the least step first."""
    root = {step: step for step in steps}

    def find(step: int) -> int:
        while root[step] != step:
            root[step] = root[root[step]]
            step = root[step]
        return step

    for one, other in pairs:
        if one in root and other in root:
            root[find(one)] = find(other)
    groups: dict[int, set[int]] = defaultdict(set)
    for step in root:
        groups[find(step)].add(step)
    return sorted((frozenset(group) for group in groups.values()), key=min)
