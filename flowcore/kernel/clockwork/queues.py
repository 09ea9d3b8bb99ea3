"""Three ways of standing in a queue, for anything with `next`, `prev` and `child`.

A *chain* keeps the order in which things are put in. A *heap* keeps them by `rank`, then `order`; it
is a pairing heap (Fredman, Sedgewick, Sleator and Tarjan, The pairing heap, Algorithmica 1, 1986),
in which anything can be taken out from the middle. A *graded chain* keeps the same order where ranks are
few: all of one rank are of one grade, 0 for the first, and `lasts[row, grade]` is the last of each. `head` has
the `first` (and of a chain the `last`); `nodes` are the records that it counts.
"""

from typing import Protocol

import numpy as np

from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.kinds import NONE
from flowcore.kernel.records.record import Table


class Linked(Protocol):
    """What can stand in a chain."""

    next: int
    prev: int


class Ranked(Linked, Protocol):
    """What can stand in a heap."""

    child: int
    rank: float
    order: int


class Heap(Protocol):
    """What has the root of a heap."""

    first: int


class Chain(Protocol):
    """What has the ends of a chain."""

    first: int
    last: int


@part
def append(nodes: Table[Linked], head: Chain, item: int) -> None:
    """Put an item at the end of a chain."""
    nodes[item].next = NONE
    nodes[item].prev = head.last
    if head.first == NONE:
        head.first = item
    else:
        nodes[head.last].next = item
    head.last = item


@part
def prepend(nodes: Table[Linked], head: Chain, item: int) -> None:
    """Put an item at the front of a chain."""
    nodes[item].prev = NONE
    nodes[item].next = head.first
    if head.first == NONE:
        head.last = item
    else:
        nodes[head.first].prev = item
    head.first = item


@part
def insert_after(nodes: Table[Linked], head: Chain, before: int, item: int) -> None:
    """Put an item into a chain behind another; behind NONE is the front."""
    if before == NONE:
        prepend(nodes, head, item)
        return
    after = nodes[before].next
    nodes[item].prev = before
    nodes[item].next = after
    nodes[before].next = item
    if after == NONE:
        head.last = item
    else:
        nodes[after].prev = item


@part
def unchain(nodes: Table[Linked], head: Chain, item: int) -> None:
    """Take an item out of a chain."""
    before, after = nodes[item].prev, nodes[item].next
    if before == NONE:
        head.first = after
    else:
        nodes[before].next = after
    if after == NONE:
        head.last = before
    else:
        nodes[after].prev = before


@part
def goes_before(nodes: Table[Ranked], one: int, other: int) -> bool:
    """Say whether one item ranks before another."""
    if nodes[one].rank != nodes[other].rank:
        return nodes[one].rank < nodes[other].rank
    return nodes[one].order < nodes[other].order


@part
def put_in_grade(nodes: Table[Ranked], head: Chain, lasts: np.ndarray, row: int, grade: int, item: int) -> None:
    """Put an item into a graded chain: behind all of its grade, or, by its order, before some of them."""
    if nodes[item].order < 0:
        before = last_before(nodes, head, last_up_to(lasts, row, grade - 1), item)
    else:
        before = last_up_to(lasts, row, grade)
        while before != NONE and goes_before(nodes, item, before):
            before = nodes[before].prev
    insert_after(nodes, head, before, item)
    last = lasts[row, grade]
    if last == NONE or goes_before(nodes, last, item):
        lasts[row, grade] = item


@part
def last_up_to(lasts: np.ndarray, row: int, grade: int) -> int:
    """Return the last of all up to a grade, or NONE."""
    while grade >= 0 and lasts[row, grade] == NONE:
        grade -= 1
    return lasts[row, grade] if grade >= 0 else NONE


@part
def last_before(nodes: Table[Ranked], head: Chain, before: int, item: int) -> int:
    """Return the last that goes before an item, from one that does, or NONE, on."""
    after = head.first if before == NONE else nodes[before].next
    while after != NONE and goes_before(nodes, after, item):
        before, after = after, nodes[after].next
    return before


@part
def take_from_grade(nodes: Table[Ranked], head: Chain, lasts: np.ndarray, row: int, grade: int, item: int) -> None:
    """Take an item out of a graded chain, from wherever it stands."""
    if lasts[row, grade] == item:
        before = nodes[item].prev
        has_other = before != NONE and nodes[before].rank == nodes[item].rank
        lasts[row, grade] = before if has_other else NONE
    unchain(nodes, head, item)


@part
def meld(nodes: Table[Ranked], one: int, other: int) -> int:
    """Make one heap of two and return its root."""
    if goes_before(nodes, other, one):
        one, other = other, one
    below = nodes[one].child
    nodes[other].next = below
    nodes[other].prev = one
    if below != NONE:
        nodes[below].prev = other
    nodes[one].child = other
    return one


@part
def put_in(nodes: Table[Ranked], head: Heap, item: int) -> None:
    """Put an item into a heap."""
    nodes[item].child = NONE
    nodes[item].next = NONE
    nodes[item].prev = NONE
    head.first = item if head.first == NONE else meld(nodes, head.first, item)


@part
def take_out(nodes: Table[Ranked], head: Heap, item: int) -> None:
    """Take an item out of a heap, from wherever it stands."""
    others = paired(nodes, nodes[item].child)
    if head.first == item:
        head.first = others
        return
    before, after = nodes[item].prev, nodes[item].next
    if nodes[before].child == item:
        nodes[before].child = after
    else:
        nodes[before].next = after
    if after != NONE:
        nodes[after].prev = before
    if others != NONE:
        head.first = meld(nodes, head.first, others)


@part
def paired(nodes: Table[Ranked], first: int) -> int:
    """Make one heap of siblings: pair by pair forth, then all together back."""
    done = NONE
    while first != NONE:
        second = nodes[first].next
        after = NONE
        nodes[first].next = NONE
        nodes[first].prev = NONE
        if second != NONE:
            after = nodes[second].next
            nodes[second].next = NONE
            nodes[second].prev = NONE
            first = meld(nodes, first, second)
        nodes[first].next = done
        done = first
        first = after
    root = NONE
    while done != NONE:
        after = nodes[done].next
        nodes[done].next = NONE
        nodes[done].prev = NONE
        root = done if root == NONE else meld(nodes, root, done)
        done = after
    return root
