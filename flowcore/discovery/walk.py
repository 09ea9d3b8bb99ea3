"""The ways of cases walked through the tree of a flow: which of its edges are gone how often, and who leaves them."""

from collections import Counter
from dataclasses import dataclass, field

from flowcore.discovery.cuts import Kind
from flowcore.discovery.graph import Trace
from flowcore.discovery.splits import parted, rounds
from flowcore.discovery.tree import Node

START, END = -1, -2
FIRST_FORK = -10
"""Places of steps are 0 and more; each fork has one below these, and its join the next one below."""
Places = tuple[int, int]


@dataclass(frozen=True)
class Joints:
    """Where a part of a flow begins and ends, and whether it can be skipped."""

    begins: frozenset[int]
    ends: frozenset[int]
    can_be_skipped: bool


@dataclass
class Walked:
    """A flow by its edges: which there are, and how often cases of each type (-1 without one) have gone them.

    `forks` are all nodes whose parts go on together, in the order of their places; `passed` is how often each was.
    `fitting` of all `cases` have gone the flow's ways and no others.
    """

    tree: Node
    edges: set[Places] = field(default_factory=set)
    gone: Counter[tuple[int, int, int]] = field(default_factory=Counter)
    forks: list[Node] = field(default_factory=list)
    passed: Counter[int] = field(default_factory=Counter)
    cases: int = 0
    fitting: int = 0
    _off: int = 0

    def __post_init__(self) -> None:
        whole = self._joints(self.tree)
        self.edges |= {(START, begin) for begin in whole.begins} | {(end, END) for end in whole.ends}
        if whole.can_be_skipped:
            self.edges.add((START, END))

    def fork(self, node: Node) -> int:
        """Return the place of a fork; that of its join is the next one below."""
        return FIRST_FORK - 2 * next(n for n, each in enumerate(self.forks) if each is node)

    def walk(self, trace: Trace, type_: int, many: int) -> None:
        """Let so many cases of a type go a way."""
        self._off = 0
        ends = self._through(self.tree, trace, type_, many) or (END, START)
        self.cases += many
        self._count(START, ends[0], type_, many)
        if ends != (END, START):
            self._count(ends[1], END, type_, many)
        self.fitting += 0 if self._off else many

    def _joints(self, node: Node) -> Joints:
        """Note the edges within a node; return where it begins and ends."""
        if node.step is not None:
            return Joints(frozenset([node.step]), frozenset([node.step]), False)
        if node.cut is None:
            return Joints(frozenset(), frozenset(), True)
        if node.cut.kind is Kind.TOGETHER:
            self.forks.append(node)
            place = self.fork(node)
        parts = [self._joints(part) for part in node.parts]
        if node.cut.kind is Kind.TOGETHER:
            for part in parts:
                self.edges |= {(place, begin) for begin in part.begins} | {(end, place - 1) for end in part.ends}
            return Joints(frozenset([place]), frozenset([place - 1]), False)
        if node.cut.kind is Kind.CHOICE:
            begins = frozenset().union(*(part.begins for part in parts))
            ends = frozenset().union(*(part.ends for part in parts))
            return Joints(begins, ends, any(part.can_be_skipped for part in parts))
        return self._in_sequence(parts) if node.cut.kind is Kind.SEQUENCE else self._in_rounds(parts)

    def _in_sequence(self, parts: list[Joints]) -> Joints:
        begins, ends, can_be_skipped = frozenset[int](), frozenset[int](), True
        for part in parts:
            self.edges |= {(end, begin) for end in ends for begin in part.begins}
            begins |= part.begins if can_be_skipped else frozenset()
            ends = part.ends | (ends if part.can_be_skipped else frozenset())
            can_be_skipped &= part.can_be_skipped
        return Joints(begins, ends, can_be_skipped)

    def _in_rounds(self, parts: list[Joints]) -> Joints:
        body, *others = parts
        for part in others:
            self.edges |= {(end, begin) for end in body.ends for begin in part.begins}
            self.edges |= {(end, begin) for end in part.ends for begin in body.begins}
            if part.can_be_skipped:
                self.edges |= {(end, begin) for end in body.ends for begin in body.begins}
        return body

    def _count(self, one: int, other: int, type_: int, many: int) -> None:
        """Count an edge that is gone; one that the flow does not have is off its way."""
        if (one, other) in self.edges:
            self.gone[one, other, type_] += many
        else:
            self._off += 1

    def _through(self, node: Node, trace: Trace, type_: int, many: int) -> Places | None:
        """Go a way through a node; return at which places it begins and ends there, None where nothing is done."""
        if node.step is not None:
            self._off += abs(len(trace) - 1)
            return (node.step, node.step) if trace else None
        if node.cut is None:
            self._off += len(trace)
            return None
        pieces = parted(trace, node.cut)
        self._off += len(trace) - sum(len(piece) for each in pieces for piece in each)
        if node.cut.kind is Kind.TOGETHER:
            return self._together(node, [each[0] for each in pieces], type_, many)
        if node.cut.kind is Kind.LOOP:
            in_order = rounds(trace, node.cut)
        elif node.cut.kind is Kind.CHOICE and not trace and any(part.is_nothing for part in node.parts):
            return None
        else:
            in_order = [(n, piece) for n, each in enumerate(pieces) for piece in each]
        found: Places | None = None
        for number, piece in in_order:
            part = node.parts[number]
            there = self._through(part, piece, type_, many) if piece or not part.is_nothing else None
            if there and found:
                self._count(found[1], there[0], type_, many)
            found = (found[0] if found else there[0], there[1]) if there else found
        return found

    def _together(self, node: Node, pieces: list[Trace], type_: int, many: int) -> Places | None:
        place = self.fork(node)
        self.passed[place] += many
        for part, piece in zip(node.parts, pieces, strict=True):
            there = self._through(part, piece, type_, many)
            if there:
                self._count(place, there[0], type_, many)
                self._count(there[1], place - 1, type_, many)
        return place, place - 1
