"""Who does the work: teams made of resources, and of lanes and participants where no resource is named."""

import re
from typing import Any

from flowcore.exchange.bpmn.draft.draft import short
from flowcore.exchange.bpmn.draft.ours import TEAM, own_id
from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.drawn import Node, Role
from flowcore.exchange.bpmn.file.names import BY_ITSELF
from flowcore.exchange.bpmn.file.parameters import Value
from flowcore.exchange.bpmn.file.times import UNITS
from flowcore.exchange.bpmn.file.values import plain_number_of, text_of
from flowcore.exchange.bpmn.parts.calendars import rows_of
from flowcore.study.base import ID_PATTERN
from flowcore.study.durations import HOUR
from flowcore.study.ids import LONGEST

MOST_PEOPLE = 100_000
_BY_NAME = re.compile(r"getResource\(\s*['\"]([^'\"]+)['\"]\s*(?:,\s*(\d+)\s*)?\)")
_BY_ROLE = re.compile(r"getResourceByRoles?\(\s*\(?\s*['\"]([^'\"]+)['\"]\s*\)?\s*(?:,\s*(\d+)\s*)?\)")


def make_teams(reading: Reading) -> None:
    """Make a team of every resource of the file."""
    for resource, name in reading.drawn.resources.items():
        _team(reading, resource, name)


def _team(reading: Reading, element: str, name: str) -> dict[str, Any]:
    """Return the team made of a resource, a lane or a participant."""
    if element not in reading.teams:
        team_id = reading.draft.new_id("teams", own_id(reading, TEAM, element, name), "team")
        made: dict[str, Any] = {"id": team_id, "name": short(name or element)}
        made |= _people(reading, element, made["name"]) | _costs(reading, element)
        skills = [_skill(text) for text in _roles(reading, element)]
        reading.teams[element] = made | ({"skills": skills} if skills else {})
    return reading.teams[element]


def _roles(reading: Reading, element: str) -> list[str]:
    values = reading.of(element).values.get("Role", [])
    texts = [text_of(inner) for value in values for _, inner in value.points] + [text_of(value) for value in values]
    return [text for text in texts if _skill(text)]


def _skill(name: str) -> str:
    """Return the id of a skill by the name of a role; empty where that has no letter or digit."""
    if re.fullmatch(ID_PATTERN, name) and len(name) <= LONGEST:
        return name
    plain = re.sub(r"[^a-z0-9]+", "-", name.casefold()).strip("-")[:LONGEST].rstrip("-")
    return f"skill-{plain}" if plain[:1].isdigit() else plain


def _people(reading: Reading, element: str, name: str) -> dict[str, Any]:
    """Return the size of a team, or its roster where numbers or availability hold at some hours only."""
    values = reading.of(element).values
    numbers = values.get("Quantity", [])
    size = next((_count(each) for each in numbers if not each.valid_for), None)
    roster, closed = [], set()
    for value in [each for each in numbers if each.valid_for] or _available(values.get("Availability", [])):
        people = size if value.kind == "BooleanParameter" else _count(value)
        rows = rows_of(reading, value.valid_for)
        if rows is None or people is None:
            continue
        closed.update(rows.closed)
        for row in rows.roster:
            said = row.model_dump(mode="json", by_alias=True, exclude_defaults=True)
            roster.append({"days": list(row.days), "from": row.from_, "to": row.to} | said | {"people": people})
    if roster:
        return {"roster": roster} | ({"closed": sorted(closed)} if closed else {})
    if size is None:
        size = reading.notes.ask(element, name, "How many are there?", "count", 1)
    return {"size": size}


def _available(values: list[Value]) -> list[Value]:
    return [each for each in values if each.valid_for and text_of(each) in ("true", "1")]


def _count(value: Value) -> int | None:
    number = plain_number_of(value)
    return None if number is None or not 0 <= number <= MOST_PEOPLE else round(number)


def _costs(reading: Reading, element: str) -> dict[str, Any]:
    """Return what a team costs: BPSim's UnitCost is for each unit of the scenario's time."""
    fixed, unit = (plain_number_of(reading.of(element).first(name)) for name in ("FixedCost", "UnitCost"))
    per_hour = HOUR / UNITS.get(reading.scenario.time_unit or "min", 1.0)
    costs = {"use_cost": fixed, "rate": None if unit is None else float(f"{unit * per_hour:.12g}")}
    return {key: money for key, money in costs.items() if money is not None and 0 < money < 1e9}


def needs_of(reading: Reading, node: Node) -> list[dict[str, Any]]:
    """Return whom a task needs: its resources, else who has its lane or is the participant, else nobody."""
    on_task = reading.of(node.id).first("Selection")
    needs = _selected(reading, node, on_task) if on_task is not None else []
    needs = needs or [need for role in node.roles for need in _asked(reading, node, role)]
    if needs or node.tag in BY_ITSELF or reading.drawn.is_ours:
        return _once(needs)
    if node.lane:
        return [{"team": _team(reading, node.lane, reading.drawn.lanes[node.lane])["id"]}]
    process = reading.drawn.processes[node.process]
    if process.has_pool and process.name and process.id in reading.staffed:
        return [{"team": _team(reading, process.id, process.name)["id"]}]
    return []


def _once(needs: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return the needs without those that are there already."""
    return [need for number, need in enumerate(needs) if need not in needs[:number]]


def _asked(reading: Reading, node: Node, role: Role) -> list[dict[str, Any]]:
    selection = reading.of(role.id).first("Selection")
    if selection is not None:
        return _selected(reading, node, selection)
    if role.resource not in reading.drawn.resources:
        return [{"team": _team(reading, f"role:{role.name}", role.name)["id"]}] if role.name else []
    many = plain_number_of(reading.of(role.id).first("Quantity"))
    team = {"team": _team(reading, role.resource, reading.drawn.resources[role.resource])["id"]}
    return [team | ({"count": round(many)} if many is not None and many > 1 else {})]


def _selected(reading: Reading, node: Node, selection: Value) -> list[dict[str, Any]]:
    """Return whom a selection asks for: resources by name, or those with a role."""
    text = text_of(selection)
    by_name = [_by_name(reading, name, many) for name, many in _BY_NAME.findall(text)]
    known = {skill for team in reading.teams.values() for skill in team.get("skills", [])}
    by_role = [{"skill": _skill(name)} | _many(many) for name, many in _BY_ROLE.findall(text) if _skill(name) in known]
    found = [each for each in by_name if each is not None] + by_role
    if "orResource" in text and len(found) > 1:
        return [_one_of(reading, found)]
    if not found:
        reading.lose(node, "Its resources are chosen by an expression.", "Who has its lane does it, else nobody.")
    return found


def _one_of(reading: Reading, needs: list[dict[str, Any]]) -> dict[str, Any]:
    """Return the need for a skill that all these teams have from now on."""
    asked = {need.get("team") or need["skill"] for need in needs}
    skill = _skill(" or ".join(sorted(asked)))
    for team in reading.teams.values():
        able = asked & {team["id"], *team.get("skills", [])}
        if able and skill not in team.get("skills", []):
            team.setdefault("skills", []).append(skill)
    return {key: each for key, each in needs[0].items() if key == "count"} | {"skill": skill}


def _by_name(reading: Reading, name: str, many: str) -> dict[str, Any] | None:
    pools = {each.id: each.name for each in reading.drawn.processes.values()}
    for resource, called in (reading.drawn.resources | reading.drawn.lanes | pools).items():
        if name in (resource, called):
            return {"team": _team(reading, resource, called)["id"]} | _many(many)
    return None


def _many(many: str) -> dict[str, Any]:
    return {"count": min(int(many), 10_000)} if many and int(many) > 1 else {}
