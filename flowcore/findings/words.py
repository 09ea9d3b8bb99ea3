"""Sentences as pieces: text, and figures that the interface can mark and lead to."""

from pydantic import BaseModel, ConfigDict


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


def listed(names: list[str]) -> str:
    """Write names one after the other: "a, b and c"."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
