"""The catalogue of figures as a page for readers, and as a type that the front end is checked with."""

from itertools import groupby

from flowcore.results.catalogue import EACH, HALVES, HOURLY, KINDS, MONEY, STATISTIC_WORDS, FigureKind
from flowcore.results.statistics import STATISTICS

_HALVES = " and ".join(f"`wait:{half}`" for half in HALVES)
_HOURLY = ", ".join(f"{name} ({' '.join(subjects)})" for name, subjects in HOURLY.items())
_HEAD = f"""# Figures and their addresses

*Made by `scripts/types` from `flowcore/results/catalogue.py`; change it there.*

Every figure of a run has one address, which the API, the exports, targets, comparisons and the screens use:
`subject/id/quantity/statistic`. `all` stands for every id of `type`, `stream`, `outcome` and `step`; `outcome` has
the ids of exits, `link` those of two steps (`counter:cashier`), `member` a team's and a number (`clerks:2`), `line` the
name of a shared waiting room. What the whole service costs is `cost/line/per`, a team's part `cost/team/id/line/per`.

- *case* stands for `{" ".join(STATISTICS)}`
  and `within:`*time*, such as `within:5min`: the share of cases within it. *money* stands for `{" ".join(MONEY)}`.
  Percentiles of `wait` and `total` are those of the cases of all replications together; with `{EACH}` behind them, the
  mean of those of each replication.
- `hour:`*0 to 167* stands for an hour of the week, counted from Monday's midnight, of {_HOURLY}.
- Where *halves* are named and a team works in shifts, the quantity is told apart too: {_HALVES}.
- *Better* is the side on which a difference is called better: less (−), more (+), or neither.
"""
_SIGNS = {-1: "−", 0: "", 1: "+"}
_SETS = {STATISTICS: "*case*", ("",): "—", MONEY: "*money*"}


def page() -> str:
    """Return the catalogue as Markdown, a table for each group of subjects."""
    parts = [_HEAD]
    for subjects, kinds in groupby(sorted(KINDS, key=lambda kind: kind.subjects), key=lambda kind: kind.subjects):
        parts.append("\n## " + ", ".join(f"`{subject}`" for subject in subjects) + "\n")
        parts.append("\n| quantity | what it is | unit | statistics | halves | better |\n|---|---|---|---|---|---|\n")
        parts += [_row(kind) for kind in kinds]
    parts.append("\n## Statistics\n\n| | |\n|---|---|\n")
    parts += [f"| `{name}` | {words} |\n" for name, words in STATISTIC_WORDS.items()]
    return "".join(parts)


def _row(kind: FigureKind) -> str:
    halves = _listed(kind.halves) if kind.halves else ""
    told = (f"`{kind.quantity}`", kind.words, kind.unit, _listed(kind.statistics), halves, _SIGNS[kind.better])
    return f"| {' | '.join(told)} |\n"


def _listed(statistics: tuple[str, ...]) -> str:
    return _SETS.get(statistics) or " ".join(f"`{statistic}`" for statistic in statistics)


def typescript() -> str:
    """Return the type of all addresses: an address that is none is an error where it is written."""
    kinds = [f"  | `{_pattern(subject, kind)}`" for kind in KINDS for subject in kind.subjects]
    statistics = " | ".join(f'"{statistic}"' for statistic in (*STATISTICS, f"p50{EACH}", f"p90{EACH}"))
    head = "// Made by scripts/types from flowcore/results/catalogue.py; change it there.\n\n"
    of_cases = f"type OfCases = {statistics} | `within:${{string}}`;\n"
    half = 'type Half = "" | ":regular" | ":overtime";\n\n'
    about = "/** The address of a figure, as the catalogue has it. */\n"
    return head + of_cases + half + about + "export type FigureAddress =\n" + "\n".join(kinds) + ";\n"


def _pattern(subject: str, kind: FigureKind) -> str:
    owner = subject if subject in ("cost", "run") else f"{subject}/${{string}}"
    quantity = kind.quantity + ("${Half}" if kind.halves else "")
    if kind.statistics == ("",):
        return f"{owner}/{quantity}"
    if kind.statistics == STATISTICS:
        return f"{owner}/{quantity}/${{OfCases}}"
    return f"{owner}/{quantity}/${{{' | '.join(chr(34) + name + chr(34) for name in kind.statistics)}}}"
