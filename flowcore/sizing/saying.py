"""What a search says in sentences: what it found, or what stands in the way."""

import numpy as np

from flowcore.findings.targets import promise
from flowcore.findings.words import Sentence, listed, listed_pieces, money, plain, value
from flowcore.results.aims import Aims
from flowcore.results.catalogue import titled
from flowcore.sizing.aiming.choosing import Choice, Judged
from flowcore.sizing.aiming.judging import least_margin, margins_of, replications_needed
from flowcore.sizing.proposals import chosen_of, nearest_of, planned_members
from flowcore.sizing.search import Search
from flowcore.sizing.staffing.cover import Cover

MOST_NAMED = 2
A_LITTLE = 0.001
"""Costs that differ by so small a share are called the same."""


def says(search: Search) -> list[Sentence]:
    """Return what a search found, or what stands in the way."""
    chosen, choice = chosen_of(search), search.found.choice
    if chosen is not None and choice is not None:
        found = _found_words(search, chosen)
        return [found] if choice.is_sure else [found, [plain(_unsure_words(search.aims, choice))]]
    if choice is None and (best := search.best()) is not None:
        cost = value(money(best.cost, search.study.currency))
        return [[plain("Stopped before it was checked: what seems to hold costs "), cost, plain(" a week so far.")]]
    if search.found.short is not None:
        return [[plain(_short_words(search, search.found.short))]]
    if choice is not None:
        return [[plain(f"Some seemed to hold, but none did with fresh luck. {_unsure_words(search.aims, choice)}")]]
    if search.found.is_over:
        return [
            [plain(f"Nothing within the limits holds{_missed_words(search)}. Allow more people, or loosen a target.")]
        ]
    return [[plain("Stopped before anything was found that seems to hold.")]]


def _found_words(search: Search, chosen: Judged) -> Sentence:
    """Return who keeps which targets, and for how much: "9 Clerks keep 9 in 10 waits within 12 minutes for ..."."""
    cost = float(chosen.outcome.costs.mean())
    currency = search.study.currency
    sentence = [*_who(search, chosen), plain(" keep "), *_promises(search), plain(" for ")]
    sentence += [value(money(cost, currency)), plain(" a week")]
    if search.found.today is None:
        return [*sentence, plain(".")]
    less = search.found.today.cost - cost
    end = "." if least_margin(search.aims, search.found.today.outcome) >= 0 else ", which does not."
    if abs(less) < A_LITTLE * cost:
        return [*sentence, plain(f", as much as today{end}")]
    words = f"{money(abs(less), currency)} {'less' if less >= 0 else 'more'}"
    return [*sentence, plain(", "), value(words), plain(f" than today{end}")]


def _who(search: Search, chosen: Judged) -> Sentence:
    """Return the members of the teams, and at how many times they start; or where the levers are."""
    staffing = chosen.staffing
    if staffing.levers:
        names = {lever.id: lever.name for lever in search.study.levers}
        return listed_pieces([[value(f"{names[lever]} {at}")] for lever, at in staffing.levers.items()])
    names = {team.id: team.name for team in search.study.teams}
    counts = planned_members(search, search.found.tried[staffing.key])
    who = listed_pieces([[value(f"{n:,} {'of ' * (n == 1)}{names[team]}")] for team, n in counts.items()])
    starts = {row.from_ for rows in staffing.rosters.values() for row in rows}
    return [*who, plain(f", starting at {len(starts)} different times,")] if len(starts) > 1 else who


def _promises(search: Search) -> Sentence:
    targets = search.targets
    parts = [promise(search.study, target) for target in targets[:MOST_NAMED]]
    if len(targets) > MOST_NAMED:
        more = len(targets) - MOST_NAMED
        parts.append([plain(f"{more} more target{'s' * (more > 1)}")])
    return listed_pieces(parts)


def _missed_words(search: Search) -> str:
    """Return which target is missed most by what comes nearest, in words that go on a sentence."""
    nearest = nearest_of(search)
    if nearest is None:
        return ""
    worst = min(margins_of(search.aims, nearest.outcome), key=lambda each: each.least)
    title = titled(worst.aim.target.figure, search.study)
    name = worst.aim.target.figure if title is None else title.name
    return f": the nearest that was tried costs {nearest.cost:,.0f} a week and misses “{name}” most"


def _unsure_words(aims: Aims, choice: Choice) -> str:
    """Return how many replications would be needed to tell what was not told."""
    judged = [each for each in choice.candidates if not each.beaten]
    count = max((each.outcome.count for each in judged), default=0)
    needed = max((replications_needed(aims, each.outcome) for each in judged), default=count)
    if needed > count:
        return f"{count} replications could not tell whether all of the cheapest hold; about {needed:,} would."
    return f"After {count} replications it is not settled, as surely as wanted, which that holds is the cheapest."


def _short_words(search: Search, cover: Cover) -> str:
    """Return where the limits do not let the need be covered: the interval that lacks most, and how many in all."""
    pool, lacking = max(cover.short.items(), key=lambda each: float(each[1].max()))
    place = int(np.argmax(lacking))
    names = {team.id: team.name for team in search.study.teams}
    teams = listed([names[each] for each in pool.split("+")])
    return (
        f"Nothing within the limits covers the need: {search.grid.words(place)} lacks {lacking[place]:.0f} of {teams}. "
        f"In the way is {search.found.in_the_way}: change that, or loosen a target."
    )
