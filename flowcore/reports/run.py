"""What a run and a comparison of scenarios say, as they are written to a file."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict
from typing import Any

from numpy.typing import NDArray

from flowcore import __version__
from flowcore.results.catalogue import EACH, HOURS_A_WEEK, hour_words, titled
from flowcore.results.comparison import Difference, compare
from flowcore.results.counts import least_of_bins
from flowcore.results.run import Results
from flowcore.results.series import by_week
from flowcore.results.steady_state import doubts, proposed_warm_up
from flowcore.study import StudyDocument


def run_report(study: StudyDocument, results: Results) -> dict[str, Any]:
    """Return every figure with its interval and values, levels and series, and what is doubtful."""
    figures = {
        address: asdict(found) | {"values": _numbers(results.values[address.removesuffix(EACH)])}
        for address, found in results.figures().items()
    }
    series = results.series()
    return {
        "study": study.name,
        "run": study.run.model_dump() | {"engine": __version__},
        "doubts": [problem.model_dump(mode="json") for problem in doubts(study, results)],
        "proposed_warm_up": proposed_warm_up(study, results),
        "figures": figures,
        "levels": {address: _by_number(shares) for address, shares in results.levels().items()},
        "series": {address: _numbers(values) for address, values in series.items()},
        "week": {address: _numbers(by_week(study, values)) for address, values in series.items()},
    }


def run_tables(study: StudyDocument, results: Results) -> list[tuple[str, list[str], list[list[str | float | None]]]]:
    """Return the figures of a run, its replications one by one, and its week, each as a titled table with a head."""
    figures = results.figures()
    titles = {address: title for address in figures if (title := titled(address, study)) is not None}
    words = [[address, title.name, title.of] for address, title in titles.items()]
    told = [
        [*word, found.mean, found.half_width, found.low, found.high, found.sd, found.n]
        for word, found in zip(words, (figures[address] for address in titles), strict=True)
    ]
    each = [[*word, *_numbers(results.values[word[0].removesuffix(EACH)])] for word in words]
    numbers = [f"replication {replication.number}" for replication in results.replications]
    weeks = results.replications[0].week if results.replications else {}
    hours = [[quantity, *_numbers(means)] for quantity, means in zip(weeks, results.weeks([*weeks])[0], strict=True)]
    name = ["address", "figure", "of it"]
    return [
        ("Figures", [*name, "mean", "half-width", "low", "high", "standard deviation", "replications"], told),
        ("Replications", [*name, *numbers], each),
        ("Week", ["quantity", *(hour_words(hour) for hour in range(HOURS_A_WEEK))], hours),
    ]


def comparison_report(
    study: StudyDocument, baseline: Results, scenarios: Mapping[str, Results], addresses: Iterable[str]
) -> dict[str, Any]:
    """Return the differences of scenarios from the study as it is, each figure's p-values adjusted for all of them."""
    compared = {address: differences(baseline, list(scenarios.values()), address) for address in addresses}
    return {
        "study": study.name,
        "run": study.run.model_dump() | {"engine": __version__},
        "scenarios": {
            scenario: {address: asdict(row[place]) for address, row in compared.items()}
            for place, scenario in enumerate(scenarios)
        },
    }


def differences(baseline: Results, scenarios: Sequence[Results], address: str) -> list[Difference]:
    """Return one figure's differences of scenarios from the baseline, adjusted for their number."""
    first = baseline.contributions(address)
    pairs = [(first, each.contributions(address)) for each in scenarios]
    return compare(address, pairs, baseline.confidence)


def _numbers(values: NDArray[Any]) -> list[float | None]:
    return [None if math.isnan(value) else value for value in values.tolist()]


def _by_number(shares: NDArray[Any]) -> dict[int, float]:
    """Return the shares of the time by the least number that each stands for, those of nothing left out."""
    return {least: share for least, share in zip(least_of_bins(), shares.tolist(), strict=True) if share > 0}
