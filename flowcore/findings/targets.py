"""Which targets are missed, too close to tell, or kept."""

from collections.abc import Iterator

from flowcore.findings.source import Source
from flowcore.findings.told import Kind, Told, Weight
from flowcore.findings.words import Sentence, figure_words, listed_pieces, measure_words, plain, value
from flowcore.reports.keeping import Keeps, KeptByTime, keeps_target, kept_by_time, times_counted
from flowcore.results.catalogue import GONE, Address, Title, Unit, titled
from flowcore.results.statistics import PERCENTILE_NAMES
from flowcore.study import StudyDocument
from flowcore.study.durations import plain_number
from flowcore.study.runs import Target

HEADS = {
    Keeps.MISSED: "missed",
    Keeps.IN_DOUBT: "too close to tell",
    Keeps.KEPT: "kept",
    None: "that this run does not tell",
}
MOST_NAMED = 3


def on_targets(source: Source) -> Iterator[Told]:
    """Yield a sentence each for the targets that are missed, that are too close to tell, and that are kept.

    One more is for those of days and intervals that the run does not tell.
    """
    found: dict[Keeps | None, list[Sentence]] = {}
    for target in source.study.targets:
        for keeps, sentence in _judged(source, target):
            found.setdefault(keeps, []).append(sentence)
    weights = {
        Keeps.MISSED: Weight.MISSED,
        Keeps.IN_DOUBT: Weight.UNCERTAIN,
        Keeps.KEPT: Weight.UNCERTAIN if len(found) == 1 else Weight.ASIDE,
        None: Weight.ASIDE,
    }
    for keeps in HEADS:
        if told := found.get(keeps):
            sentence = _sentence(keeps, told)
            yield Told(kind=Kind.TARGET, weight=weights[keeps], sentence=sentence, is_wrong=keeps is Keeps.MISSED)


def _judged(source: Source, target: Target) -> Iterator[tuple[Keeps | None, Sentence]]:
    """Yield whether a target is kept, and it in words with its figure; nothing where the run has no such figure."""
    if titled(target.figure, source.study) is None:
        return
    if target.by == "run":
        figure = source.figure(target.figure)
        if figure.mean is not None:
            yield keeps_target(figure, target, times_counted(source.results, target)), _measure(source, target)
        return
    kept = kept_by_time(source.results, source.study, target)
    how = [] if kept is None else [plain(f" ({by_time_words(kept, source.study)})")]
    yield None if kept is None else kept.keeps, [*promise(source.study, target), *how]


def by_time_words(kept: KeptByTime, study: StudyDocument) -> str:
    """Return how a target of every day or interval is kept: "not in 3 of 40, worst Mon 09:00 with 62 % in time"."""
    title = titled(kept.of, study)
    unit = Unit.SHARE if title is None else title.unit
    in_time = " in time" * ("/within:" in kept.of)
    worst = f"{kept.worst} with {figure_words(kept.figure, unit, study.currency)}{in_time}"
    where = f"not in {kept.missed} of {kept.judged}" if kept.missed else f"in all {kept.judged}"
    return f"{where}, worst {worst}"


def _sentence(keeps: Keeps | None, told: list[Sentence]) -> Sentence:
    parts = told[:MOST_NAMED]
    if len(told) > MOST_NAMED:
        parts.append([plain(f"{len(told) - MOST_NAMED} more")])
    return [plain(f"Target{'s' * (len(told) > 1)} {HEADS[keeps]}: "), *listed_pieces(parts), plain(".")]


def _measure(source: Source, target: Target) -> Sentence:
    """Return a figure in words with its limit: "9 in 10 wait up to 28 minutes at Counter (at most 20 minutes)"."""
    title = titled(target.figure, source.study)
    address = Address.read(target.figure)
    if title is None or address is None:
        return []
    told = source.told(target.figure)
    limit = plain(f" (wanted: {limit_words(target, title.unit, source.study.currency)})")
    whose, where = whose_and_where(title)
    doing = {"wait": "wait", "total": "take"}.get(address.kind.quantity)
    if doing and address.statistic in PERCENTILE_NAMES:
        return [plain(f"{share_words(address.statistic)}{whose} {doing} up to "), told, plain(where), limit]
    if doing and address.statistic.startswith("within:"):
        time = title.of.partition(",")[0].removeprefix("within ")
        return [told, plain(f"{whose} {doing} at most {time}{where}"), limit]
    return [plain(f"{measure_words(title)} is "), told, limit]


def promise(study: StudyDocument, target: Target) -> Sentence:
    """Return a target as what is kept: "9 in 10 waits at Counter within 20 minutes"."""
    title, address = titled(target.figure, study), Address.read(target.figure)
    if title is None or address is None:
        return [value(target.figure)]
    limit = limit_words(target, title.unit, study.currency)
    whose, where = whose_and_where(title)
    what = {"wait": "waits", "total": "cases"}.get(address.kind.quantity)
    if what and address.statistic in PERCENTILE_NAMES and target.at_most is not None:
        within = figure_words(plain_number(target.at_most), title.unit, study.currency)
        share = value(share_words(address.statistic))
        words = [share, plain(f" {what}{whose}{where} within "), value(within)]
    elif address.kind.quantity == GONE and address.statistic.startswith("within:"):
        words = [value(limit), plain(" of the days done "), value(title.of.partition(",")[0])]
    elif what and address.statistic.startswith("within:"):
        time = title.of.partition(",")[0].removeprefix("within ")
        words = [value(limit), plain(f" of the {what}{whose}{where} within "), value(time)]
    else:
        words = [plain(f"{measure_words(title)} "), value(limit)]
    each = {"run": [], "day": [plain(" on every day")], "interval": [plain(f" in every {study.run.interval}")]}
    return [*words, *each[target.by]]


def whose_and_where(title: Title) -> tuple[str, str]:
    """Return of whom a time is, " of Emergency", and where, " at Counter"; "" for all cases, and for the whole way."""
    name = title.name
    for words in ("Wait on the whole way", "Door to door", "Time in all", "Wait"):
        name = name.removeprefix(words)
    return (f" of {name.removeprefix(', ')}", "") if name.startswith(", ") else ("", name)


def share_words(percentile: str) -> str:
    """Return the share of a percentile in words: "9 in 10"."""
    return {"p50": "half", "p90": "9 in 10"}.get(percentile, f"{percentile[1:]} %")


def limit_words(target: Target, unit: Unit, currency: str) -> str:
    """Return the limits of a target in words: "at most 20 minutes"."""
    ends = [("at least", target.at_least), ("at most", target.at_most)]
    written = [(name, plain_number(end)) for name, end in ends if end is not None]
    words = " and ".join(f"{name} {figure_words(end, unit, currency)}" for name, end in written)
    return words if target.per is None else f"{words} a {target.per}"
