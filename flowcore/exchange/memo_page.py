"""A memo as one page of HTML that needs nothing else: pictures inside, no script, nothing fetched."""

from base64 import b64encode
from collections.abc import Sequence
from html import escape
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from flowcore.reports.memo import MemoSection

Word = Annotated[str, StringConstraints(max_length=4000)]
Cells = Annotated[list[Word], Field(max_length=100)]
EVIDENCE_AFTER = "Answer"
FENCE = "default-src 'none'; img-src data:; style-src 'unsafe-inline'"
STYLE = """
  @page { size: A4; margin: 20mm 18mm; }
  body { max-width: 46rem; margin: 2.5rem auto; padding: 0 1.25rem; color: #17202b; background: #fff;
         font: 16px/1.5 "Overpass", "Liberation Sans", "DejaVu Sans", Arial, sans-serif; }
  h1 { font-size: 1.75rem; line-height: 1.2; margin: 0 0 .25rem; }
  h2 { font-size: 1.05rem; margin: 1.75rem 0 .25rem; break-after: avoid; }
  p { margin: .35rem 0; }
  .made, figcaption { color: #4a5361; font-size: .875rem; }
  .stale { border-left: 4px solid #b3203a; padding-left: .75rem; }
  figure { margin: 1.25rem 0; break-inside: avoid; }
  figure img { display: block; max-width: 100%; height: auto; }
  table { border-collapse: collapse; width: 100%; font-size: .875rem; }
  th, td { border-bottom: 1px solid #d8d2bd; padding: .3rem .6rem .3rem 0; text-align: right; vertical-align: top; }
  th:first-child, td:first-child { text-align: left; }
  thead th { border-bottom-color: #17202b; font-weight: 400; color: #4a5361; }
  @media print { body { margin: 0; padding: 0; max-width: none; font-size: 11pt; } }
"""


class Evidence(BaseModel):
    """A picture as SVG, or a table, with what it shows in a sentence."""

    model_config = ConfigDict(extra="forbid")

    caption: Word = ""
    svg: Annotated[str, StringConstraints(max_length=4_000_000)] = ""
    head: Cells = []
    rows: Annotated[list[Cells], Field(max_length=1000)] = []


def written_page(
    title: str, made: str, stale: Sequence[str], sections: Sequence[MemoSection], evidence: Sequence[Evidence]
) -> str:
    """Return a memo as a page. `made` says of what it was made, `stale` what has changed since.

    Pictures become images, in which no script runs and which fetch nothing; all else is written as text.
    """
    notes = "".join(f'<p class="stale">{escape(each)}</p>' for each in stale)
    shown = "".join(map(_figure, evidence))
    has_place = any(section.heading == EVIDENCE_AFTER for section in sections)
    body = "".join(_section(each) + (shown if each.heading == EVIDENCE_AFTER else "") for each in sections)
    return (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8">'
        f'<meta http-equiv="Content-Security-Policy" content="{FENCE}">'
        f'<meta name="viewport" content="width=device-width"><title>{escape(title)}</title>'
        f"<style>{STYLE}</style></head>"
        f'<body><h1>{escape(title)}</h1><p class="made">{escape(made)}</p>{notes}'
        f"{body}{'' if has_place else shown}</body></html>"
    )


def _section(section: MemoSection) -> str:
    lines = [line.strip() for line in section.text.splitlines() if line.strip()]
    text = "".join(f"<p>{escape(line)}</p>" for line in lines)
    return f"<section><h2>{escape(section.heading)}</h2>{text}</section>"


def _figure(evidence: Evidence) -> str:
    picture = ""
    if evidence.svg:
        inside = b64encode(evidence.svg.encode()).decode()
        picture = f'<img alt="{escape(evidence.caption)}" src="data:image/svg+xml;base64,{inside}">'
    table = _table(evidence.head, evidence.rows) if evidence.rows else ""
    return f"<figure>{picture}{table}<figcaption>{escape(evidence.caption)}</figcaption></figure>"


def _table(head: Sequence[str], rows: Sequence[Sequence[str]]) -> str:
    heads = "".join(f'<th scope="col">{escape(cell)}</th>' for cell in head)
    lines = "".join(f"<tr>{''.join(f'<td>{escape(cell)}</td>' for cell in row)}</tr>" for row in rows)
    return f"<table><thead><tr>{heads}</tr></thead><tbody>{lines}</tbody></table>"
