"""XML from elsewhere, read so that it can do no harm."""

from lxml import etree

from flowcore.exchange.bpmn.file.names import BPMN, bpmn
from flowcore.problems import StudyError, error_at

MOST_BYTES = 8_000_000
MOST_ELEMENTS = 200_000
DEEPEST = 100
OWN_TYPE = "The file defines a document type of its own."


def read_xml(content: bytes) -> etree._Element:
    """Return the definitions in a BPMN file.

    Nothing is fetched, no entity is replaced, and a file with a document type of its own is refused. Raises
    StudyError where it is no BPMN, malformed, too large or nested too deep.
    """
    if len(content) > MOST_BYTES:
        raise _trouble(f"The file has more than {MOST_BYTES // 1_000_000} MB.", "Bring in one process at a time.")
    if b"<!DOCTYPE" in content:
        raise _trouble(OWN_TYPE, "Save the process anew as plain BPMN.")
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False)
    try:
        root = etree.fromstring(content, parser)
    except etree.XMLSyntaxError as error:
        line, column = error.position
        told = (error.msg or "it cannot be read").partition(", line")[0]
        raise _trouble(f"Line {line}, column {column} is not XML: {told}.", "Save the process anew as BPMN.") from None
    except ValueError:
        raise _trouble("The file is not XML.", "Save the process as BPMN 2.0.") from None
    if root.getroottree().docinfo.doctype:  # type: ignore[union-attr]
        raise _trouble(OWN_TYPE, "Save the process anew as plain BPMN.")
    _require_size(root)
    if root.tag != bpmn("definitions"):
        raise _trouble("The file is XML, and no BPMN 2.0.", f"Save the process as BPMN 2.0, the definitions of {BPMN}.")
    return root


def _require_size(root: etree._Element) -> None:
    level, elements = [root], 0
    for _ in range(DEEPEST):
        elements += len(level)
        level = [child for element in level for child in element]
        if not level:
            break
    if level:
        raise _trouble(f"The file is nested more than {DEEPEST} deep.", "Take sub-processes apart.")
    if elements > MOST_ELEMENTS:
        raise _trouble(f"The file has more than {MOST_ELEMENTS:,} elements.", "Bring in one process at a time.")


def _trouble(what: str, mend: str) -> StudyError:
    return StudyError([error_at("file", what, mend)])
