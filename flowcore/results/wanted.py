"""A few figures of a replication by their addresses, in a fraction of the time that all of them take."""

from collections.abc import Iterator, Sequence

import numpy as np

from flowcore.kernel.records.world import Plan, World
from flowcore.results.apart import Apart
from flowcore.results.arrays import Values
from flowcore.results.catalogue import GONE
from flowcore.results.counted import Counted
from flowcore.results.ratios import Ratios, only
from flowcore.results.samples import QUANTITIES, Sampler, Samples, figures_of
from flowcore.results.surveys import Ledgers
from flowcore.results.tellers import APART, AT_ONCE, told_by
from flowcore.study import StudyDocument

Told = tuple[Sequence[str], Values]


class Wanted:
    """Tells the wanted figures of the worlds of a study, each as `Summary` tells it."""

    def __init__(self, study: StudyDocument, plan: Plan, addresses: Sequence[str]) -> None:
        self._addresses = addresses
        wanted = set(addresses)
        self._counted = Counted(plan)
        kinds = {address.partition("/")[0] for address in addresses}
        apart, at_once = (told_by(tellers, study, self._counted, kinds) for tellers in (APART, AT_ONCE))
        self._ratios = Ratios(only([*apart, *at_once], wanted))
        is_apart = study.has_shifts and any(":regular" in each or ":overtime" in each for each in addresses)
        self._apart = Apart(study, self._counted, apart) if is_apart else None
        rest = wanted.difference(self._ratios.addresses)
        self._of_cases = tuple(each for each in addresses if each in rest)
        asked = {quantity for each in self._of_cases for quantity in QUANTITIES if f"/{quantity}/" in each}
        self._ledgers = Ledgers(study)
        self._samples = Sampler(study, self._ledgers.clocks, tuple(self._quantities(asked)), has_histograms=False)

    def _quantities(self, asked: set[str]) -> Iterator[str]:
        """Yield the quantities of cases and visits that are needed for those that are asked for."""
        yield from (each for each in QUANTITIES if each in asked)
        if "total" not in asked and (not asked or any("/time/" in each for each in self._of_cases)):
            yield "total"
        if any(each.startswith(f"day/all/{GONE}/") for each in self._of_cases):
            yield GONE

    def __call__(self, world: World, minutes: float, days_open: int) -> Values:
        """Return the figures in the order of their addresses; not-a-number for one that is not there."""
        found: dict[str, float] = {}
        for addresses, values in self._told(world, minutes, days_open):
            found.update(zip(addresses, values.tolist(), strict=True))
        return np.array([found.get(address, np.nan) for address in self._addresses])

    def _told(self, world: World, minutes: float, days_open: int) -> Iterator[Told]:
        if self._ratios.addresses or self._apart is not None:
            counted = self._counted(world, minutes, days_open)
            yield self._ratios.addresses, self._ratios(counted)
            if self._apart is not None:
                yield self._apart(world, counted)
        if self._of_cases:
            for samples in self._samples(self._ledgers(world)):
                mine = [each for each in self._of_cases if _is_of(samples, each)]
                within = tuple(each for each in mine if "/within:" in each)
                if mine:
                    yield figures_of(samples, within)


def _is_of(samples: Samples, address: str) -> bool:
    return "/".join(address.split("/")[:2]) in samples.asked.subjects
