"""Sentences as pieces: text, and figures that the interface can mark and lead to."""

from pydantic import BaseModel, ConfigDict

from flowcore.results.catalogue import Title, Unit
from flowcore.study.durations import spoken


class Words(BaseModel):
    """A piece of a sentence; what `is_value` is a figure or a name, with the address of the figure where it has one."""

    model_config = ConfigDict(frozen=True)

    words: str
    is_value: bool = False
    address: str | None = None


Sentence = list[Words]


def plain(words: str) -> Words:
    """Return a piece of text."""
    return Words(words=words)


def value(words: str, address: str | None = None) -> Words:
    """Return a piece that the sentence is about."""
    return Words(words=words, is_value=True, address=address)


def as_text(sentence: Sentence) -> str:
    """Return the pieces as one text."""
    return "".join(piece.words for piece in sentence)


def money(amount: float, currency: str) -> str:
    """Write an amount: whole from ten on, with two decimals below."""
    return f"{currency} {amount:,.0f}" if abs(amount) >= 10 else f"{currency} {amount:,.2f}"


def figure_words(amount: float, unit: Unit, currency: str) -> str:
    """Write a figure as sentences tell it, with its unit; nothing but the number where it is counted."""
    match unit:
        case Unit.MINUTES:
            return spoken(amount)
        case Unit.SHARE:
            return _percent(100 * amount)
        case Unit.MONEY:
            return money(amount, currency)
    return f"{amount:,.0f}" if abs(amount) >= 10 or amount == 0 else f"{amount:,.1f}"


def _percent(percent: float) -> str:
    """Write a percentage: whole, but near nothing and near everything with a decimal."""
    is_near_an_end = 0 < percent < 9.95 or 99 < percent < 100
    return f"{percent:.1f} %" if is_near_an_end else f"{percent:.0f} %"


def listed(names: list[str]) -> str:
    """Write names one after the other: "a, b and c"."""
    return as_text(listed_pieces([[plain(name)] for name in names]))


def measure_words(title: Title) -> str:
    """Return what a measure is called within a sentence: "the wait at Counter, half within"."""
    name = title.name
    words = f"the {name[0].lower()}{name[1:]}" if name[1:2].islower() else f"the {name}"
    statistic, _, _ = title.of.partition(",")
    if title.unit is Unit.SHARE and statistic.startswith("within"):
        return f"the share {statistic}{name.removeprefix('Wait')}"
    return words if statistic in ("mean", "min", "cases", "members", "in a replication") else f"{words} ({statistic})"


def listed_pieces(parts: list[Sentence]) -> Sentence:
    """Put parts of a sentence one after the other: "a, b and c"."""
    first, *others = parts
    sentence = [*first]
    for number, part in enumerate(others, start=1):
        sentence += [plain(" and " if number == len(others) else ", "), *part]
    return sentence
