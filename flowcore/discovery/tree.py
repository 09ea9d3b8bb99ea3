"""A flow as a tree: steps, and how they belong together, found in the ways of cases."""

from collections import Counter
from dataclasses import dataclass, field

from flowcore.discovery.cuts import Cut, Kind, cut_of
from flowcore.discovery.graph import Follows, Part, Traces
from flowcore.discovery.splits import broken, pieces_of


@dataclass(frozen=True)
class Node:
    """A step, by its place; nothing at all; or parts that belong together by a cut."""

    step: int | None = None
    cut: Cut | None = None
    parts: list["Node"] = field(default_factory=list)

    @property
    def is_nothing(self) -> bool:
        """Whether nothing is done here."""
        return self.step is None and self.cut is None


NOTHING = Node()


def tree_of(traces: Traces, noise: float) -> Node:
    """Return the tree of a flow; what is rarer than a share `noise` of what else goes on from there is left out."""
    empty = traces.get((), 0)
    filled = Counter({trace: many for trace, many in traces.items() if trace})
    if not filled:
        return NOTHING
    if empty:
        whole = tree_of(filled, noise)
        return _or_nothing(whole) if empty >= noise * traces.total() else whole
    follows = Follows.of(filled)
    if len(follows.steps) == 1:
        return _of_one_step(filled, noise)
    for graph in (follows.without_rare(noise), follows):
        cut = cut_of(graph)
        if cut is not None:
            return Node(cut=cut, parts=[tree_of(part, noise) for part in pieces_of(filled, cut)])
    return _once_each(filled, follows, noise) or _again(filled, follows, noise)


def _or_nothing(node: Node) -> Node:
    return Node(cut=Cut(Kind.CHOICE, [steps_of(node), frozenset()]), parts=[node, NOTHING])


def steps_of(node: Node) -> frozenset[int]:
    """Return all steps of a tree."""
    if node.step is not None:
        return frozenset([node.step])
    return frozenset().union(*(steps_of(part) for part in node.parts))


def _of_one_step(traces: Traces, noise: float) -> Node:
    """A step, done again and again where that is not rare."""
    [step] = {step for trace in traces for step in trace}
    again = sum(many for trace, many in traces.items() if len(trace) > 1)
    leaf = Node(step=step)
    if again <= noise * traces.total():
        return leaf
    return _rounds_of(leaf, frozenset([step]), frozenset([step]))


def _once_each(traces: Traces, follows: Follows, noise: float) -> Node | None:
    """Return a step that nearly every way has exactly once together with all else; None where there is none."""
    for step in sorted(follows.steps):
        other = sum(many for trace, many in traces.items() if trace.count(step) != 1)
        if other <= noise * traces.total():
            cut = Cut(Kind.TOGETHER, [frozenset([step]), follows.steps - {step}])
            rest = pieces_of(traces, cut)[1]
            return Node(cut=cut, parts=[Node(step=step), tree_of(rest, noise)])
    return None


def _again(traces: Traces, follows: Follows, noise: float) -> Node:
    """All of it again and again, where an end is followed by a beginning; else every step in any order."""
    ends, starts = frozenset(follows.ends), frozenset(follows.starts)
    parts: Traces = Counter()
    for trace, many in traces.items():
        for piece in broken(trace, ends, starts):
            parts[piece] += many
    if parts.total() > traces.total():
        return _rounds_of(tree_of(parts, noise), ends, starts)
    steps = sorted(follows.steps)
    choice = Cut(Kind.CHOICE, [frozenset([step]) for step in steps])
    return _rounds_of(Node(cut=choice, parts=[Node(step=step) for step in steps]), follows.steps, follows.steps)


def _rounds_of(body: Node, ends: Part, starts: Part) -> Node:
    return Node(cut=Cut(Kind.LOOP, [steps_of(body), frozenset()], ends, starts), parts=[body, NOTHING])
