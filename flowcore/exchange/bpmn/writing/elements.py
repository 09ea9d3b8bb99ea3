"""Elements of an XML file, made one below the other."""

from lxml import etree

from flowcore.exchange.bpmn.file.names import BPMN, BPMNDI, BPSIM, DC, DI

Element = etree._Element
NAMESPACES = {"bpmn": BPMN, "bpmndi": BPMNDI, "dc": DC, "di": DI, "bpsim": BPSIM}


def new(tag: str, **attributes: object) -> Element:
    """Return an element of its own, by its name with a prefix such as `bpmn:process`."""
    return etree.Element(qualified(tag), said(attributes), NAMESPACES)


def below(parent: Element, tag: str, **attributes: object) -> Element:
    """Add an element below another."""
    return etree.SubElement(parent, qualified(tag), said(attributes))


def text_below(parent: Element, tag: str, text: str) -> Element:
    """Add an element with a text below another."""
    element = below(parent, tag)
    element.text = text
    return element


def qualified(tag: str) -> str:
    """Return the qualified name of a name with a prefix."""
    prefix, _, name = tag.partition(":")
    return f"{{{NAMESPACES[prefix]}}}{name}"


def said(attributes: dict[str, object]) -> dict[str, str]:
    """Return attributes as texts, without those that are None."""
    return {key: _text(value) for key, value in attributes.items() if value is not None}


def _text(value: object) -> str:
    return str(value).lower() if isinstance(value, bool) else str(value)
