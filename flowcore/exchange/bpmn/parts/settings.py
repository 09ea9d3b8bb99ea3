"""Settings of a scenario: when it begins, how long and how often it is run."""

from datetime import datetime
from typing import Any

from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.parameters import Value
from flowcore.exchange.bpmn.file.times import from_period
from flowcore.problems import StudyError
from flowcore.study import read_study
from flowcore.study.durations import minutes

START_ASSUMED, LENGTH_ASSUMED = "2027-03-01T08:00", "4 wk"


def start_of(reading: Reading) -> str:
    """Return the moment at which a scenario begins."""
    told = reading.scenario.settings.first("Start")
    if told is None:
        return START_ASSUMED
    try:
        moment = datetime.fromisoformat(told.attributes.get("value", "")).replace(tzinfo=None, microsecond=0)
        written = moment.isoformat(timespec="minutes" if not moment.second else "seconds")
        read_study({"name": "Start", "start": written})
    except (ValueError, StudyError):
        reading.notes.lose(
            "scenario", reading.scenario.name or "The scenario", "Its start is no moment.", START_ASSUMED
        )
        return START_ASSUMED
    return written


def currency_of(reading: Reading) -> str:
    """Return the currency of a scenario."""
    told = reading.scenario.currency
    return told if len(told) == 3 and told.isascii() and told.isalpha() and told.isupper() else "EUR"


def run_of(reading: Reading) -> dict[str, Any]:
    """Return the run settings that a scenario says."""
    settings = reading.scenario.settings
    length = _lasts(reading, settings.first("Duration"))
    run: dict[str, Any] = {"length": length if length and minutes(length) > 0 else LENGTH_ASSUMED}
    warm_up = _lasts(reading, settings.first("Warmup"))
    if warm_up and minutes(warm_up) > 0:
        run["warm_up"] = warm_up
    if reading.scenario.replications.isdigit():
        run["replications"] = min(max(int(reading.scenario.replications), 1), 10_000)
    if reading.scenario.seed.isdigit():
        run["seed"] = int(reading.scenario.seed) % 2**63
    return run


def _lasts(reading: Reading, value: Value | None) -> str | None:
    if value is None:
        return None
    if value.kind == "DurationParameter":
        return from_period(value.attributes.get("value", ""))
    told = reading.time("scenario", reading.scenario.name or "The scenario", value)
    return told if isinstance(told, str) else None
