"""What the measures of the analyst's own say of one replication."""

from flowcore.kernel.records.world import World
from flowcore.results.samples import Figures, ratio
from flowcore.study import StudyDocument
from flowcore.study.measures import by_moment


def measures(study: StudyDocument, world: World) -> Figures:
    """Return the shares, counts and levels that a study's own measures ask for; times are told with the spans."""
    figures: Figures = {}
    asked = [measure for measures in by_moment(study.measures) for measure in measures]
    for measure, told in zip(asked, world.measured, strict=True):
        among, held = float(told.among), float(told.held)
        if measure.share is not None:
            figures[f"measure/{measure.id}/share"] = ratio(held, among)
        elif measure.count is not None:
            figures[f"measure/{measure.id}/count"] = held
        elif measure.level is not None and measure.level.statistic == "mean":
            figures[f"measure/{measure.id}/level"] = ratio(float(told.area), held)
        else:
            figures[f"measure/{measure.id}/level"] = float(told.highest) if held > 0 else float("nan")
    return figures
