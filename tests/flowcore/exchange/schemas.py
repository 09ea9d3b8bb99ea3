"""The standards' own rules for files: BPMN's schema as it is published with the reader, BPSim's written down here."""

from functools import cache
from pathlib import Path

from lxml import etree

BPMN = Path("web/node_modules/bpmn-moddle/resources/bpmn/xsd/BPMN20.xsd")
BPSIM = Path(__file__).with_name("bpsim.xsd")
DATA = "{http://www.bpsim.org/schemas/1.0}BPSimData"


@cache
def schema(path: Path) -> etree.XMLSchema:
    return etree.XMLSchema(etree.parse(path))


def faults_in(content: bytes) -> list[str]:
    """Return what the schemas do not allow in a file: in all of it, and in the simulation data by themselves."""
    root = etree.fromstring(content)
    whole = [] if root.tag == DATA else _faults(BPMN, root)
    data = [etree.fromstring(etree.tostring(each)) for each in root.iter(DATA)]
    return whole + [fault for each in data for fault in _faults(BPSIM, each)]


def _faults(path: Path, root: etree._Element) -> list[str]:
    schema(path).validate(root)
    return [fault.message for fault in schema(path).error_log]
