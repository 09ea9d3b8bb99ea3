"""What tells the figures that are ratios of sums of what a study's worlds count."""

from collections.abc import Callable, Collection, Iterator, Mapping

from flowcore.results.catalogue import MINUTES_COUNTED
from flowcore.results.counted import Counted
from flowcore.results.counts import causes, deadlines, levels, outcomes, own_measures, tallies, value_shares, ways
from flowcore.results.ratios import Figures
from flowcore.results.staff import costs, places, staff
from flowcore.study import StudyDocument

Tellers = Mapping[Callable[[StudyDocument, Counted], Iterator[Figures]], tuple[str, ...]]
"""What tells figures, and of what kinds of subject, with which their addresses begin."""


def minutes_counted(_study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield for how many minutes a world collected."""
    subject, _, quantity = MINUTES_COUNTED.partition("/")
    yield Figures([subject], {quantity: counted.minutes / counted.one})


APART: Tellers = {
    outcomes: ("outcome",),
    tallies: ("step", "type", "stream"),
    causes: ("step", "type", "team"),
    costs: ("cost",),
}
"""Of regular time and of overtime apart, too."""

AT_ONCE: Tellers = {
    ways: ("link",),
    deadlines: ("deadline",),
    levels: ("step", "type", "line"),
    value_shares: ("type",),
    own_measures: ("measure",),
    staff: ("team", "member"),
    places: ("place",),
    minutes_counted: ("run",),
}
"""Of all time at once."""


def told_by(
    tellers: Tellers, study: StudyDocument, counted: Counted, kinds: Collection[str] | None = None
) -> list[Figures]:
    """Return what is told of some kinds of subject, or of all."""
    mine = [teller for teller, of in tellers.items() if kinds is None or not set(of).isdisjoint(kinds)]
    return [told for teller in mine for told in teller(study, counted)]
