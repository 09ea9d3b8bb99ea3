"""Ids for names that come from elsewhere."""

import re

LONGEST = 50


def id_for(name: str, taken: set[str], otherwise: str) -> str:
    """Return an id made of a name, which is none of those taken and is one of them from now on."""
    plain = re.sub(r"[^a-z0-9]+", "-", name.casefold()).strip("-")[:LONGEST].rstrip("-")
    plain = plain if plain[:1].isalpha() else f"{otherwise}-{plain}".rstrip("-")
    number, found = 1, plain
    while found in taken:
        number += 1
        found = f"{plain}-{number}"
    taken.add(found)
    return found
