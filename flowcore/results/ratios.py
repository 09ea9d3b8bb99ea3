"""Figures that are ratios of sums of what worlds count: all but those of single cases and visits."""

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from itertools import chain
from typing import NamedTuple

from flowcore.kernel.summary.ratios import ratios_of_sums
from flowcore.results.arrays import Values
from flowcore.results.sums import Ratio, Terms


class Figures(NamedTuple):
    """Figures of some subjects by the rest of their addresses."""

    subjects: Sequence[str]
    figures: Mapping[str, Ratio]


class Ratios:
    """Tells figures of the row of what a world has counted; `addresses` are theirs, in order."""

    def __init__(self, told: Iterable[Figures]) -> None:
        groups = [each for each in told if each.figures and each.subjects]
        self.addresses = [f"{subject}/{rest}" for each in groups for subject in each.subjects for rest in each.figures]
        self._terms = Terms.of(
            [sums.of_each(len(each.subjects)) for ratio in each.figures.values() for sums in ratio] for each in groups
        )

    def __call__(self, counted: Values) -> Values:
        """Return the figures in the order of their addresses."""
        found: Values = ratios_of_sums(counted[:, None], *self._terms, 0.0)
        return found.ravel()


def only(told: Iterable[Figures], wanted: Collection[str]) -> Iterator[Figures]:
    """Yield those of some figures that are wanted, with the same figures of other subjects that any are wanted of."""
    owners = set(chain.from_iterable(_beginnings(address) for address in wanted))
    for each in told:
        mine = [number for number, subject in enumerate(each.subjects) if subject in owners]
        subjects = [each.subjects[number] for number in mine]
        rests = [rest for rest in each.figures if any(f"{subject}/{rest}" in wanted for subject in subjects)]
        if rests:
            many = len(each.subjects)
            figures = {rest: Ratio(*(sums.of_each(many)[mine] for sums in each.figures[rest])) for rest in rests}
            yield Figures(subjects, figures)


def _beginnings(address: str) -> Iterator[str]:
    """Yield what an address begins with, of which a subject is one."""
    while address:
        address = address.rpartition("/")[0]
        yield address
