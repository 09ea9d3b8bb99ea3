"""Conditions on sequence flows as rules of a study, both ways: comparisons of properties, joined by and, or, not.

Understood are the forms in which files have them: XPath with BPSim's `getProperty('amount') > 1000`, and plain
comparisons such as `amount > 1000`, `${amount > 1000}` or `= amount > 1000`.
"""

import re
from collections.abc import Callable, Iterator
from typing import Any

from flowcore.study.durations import short_number
from flowcore.study.rules import Condition, Rule

DIGITS = 15
MOST_TOKENS = 2000
DEEPEST = 12
_TOKEN = re.compile(
    r"""\s*(?:(?P<get>(?:bpsim:)?getProperty\s*\(\s*(?:'[^']*'|"[^"]*")\s*\))"""
    r"""|(?P<text>'[^']*'|"[^"]*")|(?P<number>-?\d+(?:\.\d+)?)|(?P<name>[A-Za-z_][\w.-]*)"""
    r"""|(?P<sign><=|>=|!=|==|&&|\|\||[=<>()!]))"""
)
_SIGNS = {"=": "equal", "==": "equal", "!=": "not", "<": "under", "<=": "at-most", ">": "over", ">=": "at-least"}
_TURNED = {"under": "over", "over": "under", "at-most": "at-least", "at-least": "at-most"}
_DENIED = {
    "equal": "not",
    "not": "equal",
    "under": "at-least",
    "at-least": "under",
    "over": "at-most",
    "at-most": "over",
}
Fact = Callable[[str], str | None]
"""Returns the fact that a property's name stands for, or None."""


class _NoRule(Exception):
    """Raised where an expression is none that a rule can say."""


def rule_in(expression: str, fact: Fact) -> dict[str, Any] | None:
    """Return the rule that an expression says, or None where a rule cannot say it."""
    text = expression.strip()
    if text.startswith(("${", "#{")) and text.endswith("}"):
        text = text[2:-1]
    try:
        tokens = list(_tokens(text.removeprefix("=")))
        found = _Reader(tokens, fact).whole()
    except _NoRule:
        return None
    return found if "all" in found or "any" in found else {"all": [found]}


def _tokens(text: str) -> Iterator[tuple[str, str]]:
    at = 0
    text = text.rstrip()
    for _ in range(MOST_TOKENS):
        if at >= len(text):
            return
        found = _TOKEN.match(text, at)
        if found is None or found.lastgroup is None:
            raise _NoRule
        yield found.lastgroup, found[found.lastgroup]
        at = found.end()
    raise _NoRule


class _Reader:
    """Reads tokens from left to right; *or* binds less than *and*."""

    def __init__(self, tokens: list[tuple[str, str]], fact: Fact) -> None:
        self._tokens = tokens
        self._fact = fact
        self._at = 0
        self._depth = 0

    def whole(self) -> dict[str, Any]:
        found = self._any()
        if self._at != len(self._tokens):
            raise _NoRule
        return found

    def _peek(self) -> tuple[str, str]:
        return self._tokens[self._at] if self._at < len(self._tokens) else ("", "")

    def _take(self) -> tuple[str, str]:
        token = self._peek()
        self._at += 1
        return token

    def _took(self, *words: str) -> bool:
        is_there = self._peek()[1].lower() in words and self._peek()[0] in ("name", "sign")
        self._at += is_there
        return is_there

    def _any(self) -> dict[str, Any]:
        return self._joined("any", self._all, "or", "||")

    def _all(self) -> dict[str, Any]:
        return self._joined("all", self._one, "and", "&&")

    def _joined(self, key: str, inner: Callable[[], dict[str, Any]], *words: str) -> dict[str, Any]:
        clauses = [inner()]
        while self._took(*words):
            clauses.append(inner())
        return clauses[0] if len(clauses) == 1 else {key: clauses}

    def _one(self) -> dict[str, Any]:
        if self._took("not", "!"):
            return _denied(self._one() if self._peek()[1] != "(" else self._within())
        return self._within() if self._peek()[1] == "(" else self._comparison()

    def _within(self) -> dict[str, Any]:
        self._depth += 1
        if self._depth > DEEPEST or not self._took("("):
            raise _NoRule
        found = self._any()
        self._depth -= 1
        if not self._took(")"):
            raise _NoRule
        return found

    def _comparison(self) -> dict[str, Any]:
        left, sign, right = self._take(), self._take(), self._take()
        is_ = _SIGNS.get(sign[1])
        if is_ is None:
            raise _NoRule
        fact, value, turned = self._fact_of(left), right, False
        if fact is None:
            fact, value, turned = self._fact_of(right), left, True
        if fact is None:
            raise _NoRule
        return {"fact": fact, "is": _TURNED.get(is_, is_) if turned else is_, "value": _literal(value)}

    def _fact_of(self, token: tuple[str, str]) -> str | None:
        kind, text = token
        if kind == "get":
            return self._fact(re.split(r"['\"]", text)[1])
        return self._fact(text) if kind == "name" else None


def _literal(token: tuple[str, str]) -> str | float:
    kind, text = token
    if kind == "text":
        return text[1:-1]
    if kind == "number":
        return float(text)
    if kind == "name" and text in ("true", "false"):
        return text
    raise _NoRule


def _denied(clause: dict[str, Any]) -> dict[str, Any]:
    if "all" in clause:
        return {"any": [_denied(each) for each in clause["all"]]}
    if "any" in clause:
        return {"all": [_denied(each) for each in clause["any"]]}
    return clause | {"is": _DENIED[clause["is"]]}


def expression_of(rule: Rule, name: Callable[[str], str]) -> str:
    """Return a rule as an XPath expression, its facts as properties with these names."""
    return (" and " if rule.all else " or ").join(_clause(each, name) for each in rule.clauses)


def _clause(clause: Condition | Rule, name: Callable[[str], str]) -> str:
    if isinstance(clause, Rule):
        return f"({expression_of(clause, name)})"
    fact = f"bpsim:getProperty('{name(clause.fact)}')"
    if isinstance(clause.value, list):
        return f"({' or '.join(f'{fact} = {_written(each)}' for each in clause.value)})"
    sign = {ours: theirs for theirs, ours in _SIGNS.items() if theirs != "=="}[clause.is_]
    return f"{fact} {sign} {_written(clause.value)}"


def _written(value: str | float) -> str:
    """Write a value; a text in those quotes that it does not have."""
    if isinstance(value, str):
        return f'"{value}"' if "'" in value else f"'{value}'"
    return short_number(value, DIGITS)
