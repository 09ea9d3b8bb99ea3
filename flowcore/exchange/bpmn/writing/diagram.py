"""The diagram of a process: where its nodes stand and how its flows run."""

from collections.abc import Mapping

from flowcore.exchange.bpmn.writing.elements import Element, below
from flowcore.exchange.bpmn.writing.sketch import Box, Sketch
from flowcore.study.graph import all_ways

COLUMN, ROW = 190, 130
MARGIN = 120
BESIDE = 78
Point = tuple[float, float]


def draw_diagram(root: Element, sketch: Sketch, positions: Mapping[str, Point] | None) -> None:
    """Add the diagram of a sketch, its steps where a map has them; of one with partners, in a pool for each."""
    has_pools = len(sketch.processes) > 1
    middles = _middles(sketch, _spread(positions) if positions and not has_pools else _columns(sketch))
    diagram = below(root, "bpmndi:BPMNDiagram", id="diagram")
    plane = below(diagram, "bpmndi:BPMNPlane", id="plane", bpmnElement="collaboration" if has_pools else "process")
    if has_pools:
        _draw_pools(plane, sketch, middles)
    for node, box in sketch.boxes.items():
        _draw_box(plane, box, node, middles[node])
    for arrow in sketch.arrows:
        _draw_edge(plane, arrow.id, _line(sketch, middles, arrow.source, arrow.target))
    for number, (source, target) in enumerate(sketch.messages):
        _draw_edge(plane, f"message_flow_{number}", [middles[source], middles[target]])


def _draw_pools(plane: Element, sketch: Sketch, middles: Mapping[str, Point]) -> None:
    """Draw a pool around the nodes of each participant."""
    for join, process in sketch.processes.items():
        inside = [middles[node] for node, box in sketch.boxes.items() if sketch.home.get(box.step, "") == join]
        left, right = min(x for x, _ in inside) - MARGIN, max(x for x, _ in inside) + MARGIN
        top, bottom = min(y for _, y in inside) - MARGIN / 2, max(y for _, y in inside) + MARGIN / 2
        own = f"participant_{process.get('id')}"
        shape = below(plane, "bpmndi:BPMNShape", id=f"{own}_drawn", bpmnElement=own, isHorizontal=True)
        below(shape, "dc:Bounds", x=round(left), y=round(top), width=round(right - left), height=round(bottom - top))


def _draw_edge(plane: Element, flow: str, points: list[Point]) -> None:
    edge = below(plane, "bpmndi:BPMNEdge", id=f"{flow}_drawn", bpmnElement=flow)
    for x, y in points:
        below(edge, "di:waypoint", x=round(x), y=round(y))


def _draw_box(plane: Element, box: Box, node: str, middle: Point) -> None:
    (x, y), (width, height) = middle, box.size
    shape = below(plane, "bpmndi:BPMNShape", id=f"{node}_drawn", bpmnElement=node)
    below(shape, "dc:Bounds", x=round(x - width / 2), y=round(y - height / 2), width=width, height=height)


def _spread(positions: Mapping[str, Point]) -> dict[str, Point]:
    """Return the positions of a map so far apart that no two boxes overlap."""
    columns = {x: number for number, x in enumerate(sorted({round(x) for x, _ in positions.values()}))}
    rows = {y: number for number, y in enumerate(sorted({round(y) for _, y in positions.values()}))}
    return {
        step: (2 * MARGIN + COLUMN * columns[round(x)], MARGIN + ROW * rows[round(y)])
        for step, (x, y) in positions.items()
    }


def _columns(sketch: Sketch) -> dict[str, Point]:
    """Return where steps stand: in columns by how many ways they are from where cases come in."""
    ways = all_ways(sketch.study)
    depth: dict[str, int] = {}
    ahead = [(stream.to, 0) for stream in sketch.study.streams if stream.to in ways]
    while ahead:
        step, far = ahead.pop(0)
        if step not in depth:
            depth[step] = far
            ahead += [(to, far + 1) for to in ways[step] if to in ways]
    top = MARGIN
    places: dict[str, Point] = {}
    for process in sketch.processes:
        rows: dict[int, int] = {}
        for step_id in (each for each in sketch.steps if sketch.home.get(each, "") == process):
            column = depth.get(step_id, 0)
            places[step_id] = (2 * MARGIN + COLUMN * column, top + ROW * rows.get(column, 0))
            rows[column] = rows.get(column, 0) + 1
        top += ROW * max(rows.values(), default=0) + MARGIN
    return places


def _middles(sketch: Sketch, places: Mapping[str, Point]) -> dict[str, Point]:
    """Return the middle of each node: of those beside a step, one beside the other."""
    beside: dict[tuple[str, str], int] = {}
    middles = {}
    for node, box in sketch.boxes.items():
        x, y = places.get(box.step, (MARGIN, MARGIN))
        if box.side != "at":
            number = beside.get((box.step, box.side), 0)
            beside[box.step, box.side] = number + 1
            x, y = _moved(box.side, number, x, y)
        middles[node] = (x, y)
    return middles


def _moved(side: str, number: int, x: float, y: float) -> Point:
    if side == "below":
        return x - 35 + 45 * number, y + 40
    return x + (BESIDE if side == "after" else -BESIDE), y + 42 * number


def _line(sketch: Sketch, middles: Mapping[str, Point], source: str, target: str) -> list[Point]:
    """Return the points of a flow: straight on the same row, else with one step on the way."""
    (x1, y1), (x2, y2) = middles[source], middles[target]
    begin, end = sketch.boxes[source].size[0] / 2, sketch.boxes[target].size[0] / 2
    if x2 - end > x1 + begin:
        if y1 == y2:
            return [(x1 + begin, y1), (x2 - end, y2)]
        between = (x1 + begin + x2 - end) / 2
        return [(x1 + begin, y1), (between, y1), (between, y2), (x2 - end, y2)]
    low = max(y1 + sketch.boxes[source].size[1] / 2, y2 + sketch.boxes[target].size[1] / 2) + 22
    return [
        (x1, y1 + sketch.boxes[source].size[1] / 2),
        (x1, low),
        (x2, low),
        (x2, y2 + sketch.boxes[target].size[1] / 2),
    ]
