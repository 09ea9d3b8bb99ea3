"""What a whole folder says to people who only look into it: tables for a spreadsheet, and a page about all of it."""

from collections.abc import Iterator

from flowcore.exchange.folder.contents import CONTENTS, README, STUDY, Contents
from flowcore.exchange.tables import written_csv
from flowcore.reports.run import run_tables
from flowcore.results.run import Results
from flowcore.study import StudyDocument


def tables_of(study: StudyDocument, results: Results) -> Iterator[tuple[str, bytes]]:
    """Yield the tables of a scenario that was run as CSV files, each with its name."""
    for title, head, rows in run_tables(study, results):
        yield f"{title.lower()}.csv", written_csv(head, rows).encode("utf-8-sig")


def readme_of(name: str, contents: Contents) -> str:
    """Return what stands where in a folder."""
    lines = [
        f"The whole folder of “{name}”, exported with version {contents.engine} of the engine.",
        "",
        "To go on with it, import this zip where your studies are listed: the study is made with all its versions, its",
        "runs and searches are made again with the same luck, and memos and logs come with it.",
        "",
        f"{README:<16}this page",
        f"{CONTENTS:<16}what is here, who made it and when, and what belongs to what",
        f"{STUDY:<16}the study as it is now (version {contents.current}); can also be imported alone",
        f"{'versions':<16}the document of each version",
    ]
    if contents.runs:
        lines.append(
            f"{'runs':<16}of each run by its number, and of each scenario: figures, replications, hours of the week"
        )
    if contents.searches:
        lines.append(f"{'searches':<16}the answer of each search for staffing")
    if contents.memos:
        lines.append(f"{'memos':<16}each memo as a page, and its text to be read again")
    if contents.data:
        lines += [
            f"{'data':<16}logs as they were brought",
            "",
            "The logs are records of a real service. Look whether they may be passed on before you do it.",
        ]
    return "\n".join([*lines, ""])
