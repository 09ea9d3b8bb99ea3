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
    """Add the diagram of a sketch, its steps where a map has them."""
    middles = _middles(sketch, _spread(positions) if positions else _columns(sketch))
    diagram = below(root, "bpmndi:BPMNDiagram", id="diagram")
    plane = below(diagram, "bpmndi:BPMNPlane", id="plane", bpmnElement="process")
    for box in sketch.boxes.values():
        _draw_box(plane, box, box_id := _id_of(sketch, box), middles[box_id])
    for arrow in sketch.arrows:
        edge = below(plane, "bpmndi:BPMNEdge", id=f"{arrow.id}_drawn", bpmnElement=arrow.id)
        for x, y in _line(sketch, middles, arrow.source, arrow.target):
            below(edge, "di:waypoint", x=round(x), y=round(y))


def _id_of(sketch: Sketch, box: Box) -> str:
    return next(node for node, each in sketch.boxes.items() if each is box)


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
    rows: dict[int, int] = {}
    places: dict[str, Point] = {}
    for step_id in sketch.steps:
        column = depth.get(step_id, 0)
        places[step_id] = (2 * MARGIN + COLUMN * column, MARGIN + ROW * rows.get(column, 0))
        rows[column] = rows.get(column, 0) + 1
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
