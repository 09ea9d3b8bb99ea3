"""The text of a memo: of small studies and of very large ones, and the page that it becomes."""

from typing import Any

from flowcore.exchange.memo_page import Evidence, written_page
from flowcore.reports.findings import summary_of
from flowcore.reports.memo import MemoSection, Tried, memo_of_comparison, memo_of_run
from flowcore.reports.observed import held_against
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import document, exit_step, exponential, serve


def busy(**more: Any) -> StudyDocument:
    desk = serve("desk", exponential(4), "clerks", {"out": 1})
    found = document([desk, exit_step()], {"clerks": 1}, exponential(5), length="2 d", warm_up="0 min", replications=3)
    return read_study(found | more)


def test_a_memo_tells_question_answer_assumptions_and_how_sure() -> None:
    study = busy(
        about="Is one clerk enough?",
        targets=[{"figure": "type/all/wait/p90", "at_most": "10 min"}],
        observed=[
            {"figure": "step/desk/work/mean", "value": "4 min"},
            {"figure": "type/all/wait/mean", "value": "500 min"},
        ],
    )
    results = simulate(study)
    summary = summary_of(study, results)
    fits = held_against(study, summary.figures)
    memo = memo_of_run(Tried(name="As it is today", study=study), study, summary.findings, summary.figures, fits)
    text = {section.heading: section.text for section in memo.sections}
    assert text["Question"].splitlines() == [
        "Is one clerk enough?",
        "It should keep the wait on the whole way (9 in 10 within) at most 10 minutes.",
    ]
    assert text["What was tried"].splitlines()[1] == "It was played through 3 times, each time for 2 d."
    came = results.figure("stream/cases/arrived").mean or 0.0
    assert text["Assumptions"].splitlines() == [
        f"Cases: {came:,.0f} cases come in 2 d.",
        f"Desk: {results.figure('step/desk/work/mean').mean:.1f} minutes of work a visit, by Clerks.",
        "Clerks: 1, always there.",
    ]
    assert "1 of 2 figures fit: Wait on the whole way does not fit" in text["How sure"]
    assert memo.title == "Test"


def test_what_was_changed_is_told_against_the_baseline() -> None:
    study = busy()
    more = study.model_copy(update={"teams": [study.teams[0].model_copy(update={"size": 2})]})
    tried = [Tried(name="As it is today", study=study), Tried(name="One more", study=more)]
    memo = memo_of_comparison(tried, ["It helps."], "3 replications.", {}, [])
    text = {section.heading: section.text for section in memo.sections}
    assert text["What was tried"].splitlines() == ["Against “As it is today”:", "“One more”: Clerks: size 1 → 2."]
    assert text["How sure"].splitlines()[0] == "3 replications."
    assert "has not been held against figures of the real service" in text["How sure"]


def test_the_largest_study_still_has_a_memo() -> None:
    long = "x" * 119
    study = busy(
        name=long,
        streams=[
            {"id": f"in-{n}", "name": f"{n}{long}"[:119], "kind": "random", "gap": "9 h", "to": "desk"}
            for n in range(200)
        ],
        teams=[{"id": "clerks", "name": "Clerks"}, *({"id": f"t{n}", "name": f"{n}{long}"[:119]} for n in range(400))],
    )
    summary = summary_of(study, simulate(study))
    memo = memo_of_run(Tried(name=long, study=study), busy(), summary.findings, summary.figures, [])
    assert "And 192 more streams." in memo.sections[3].text
    tried = [Tried(name=f"{n} {long}"[:119], study=busy()) for n in range(201)]
    assert "And 160 more scenarios." in memo_of_comparison(tried, [], "", {}, []).sections[1].text


def test_a_page_writes_all_that_is_typed_as_text() -> None:
    section = MemoSection(heading="<i>Answer", text="1 < 2\n\n<script>alert(1)</script>")
    evidence = Evidence(caption='"><b>', head=["<u>"], rows=[["&", "1"]])
    page = written_page("<title>", "<made>", ["<stale>"], [section], [evidence])
    for typed in ("<i>", "<script>", "<b>", "<u>", "<made>", "<stale>"):
        assert typed not in page
    assert "<p>1 &lt; 2</p><p>&lt;script&gt;alert(1)&lt;/script&gt;</p>" in page
    assert page.index("<table>") > page.index("&lt;i&gt;Answer"), "evidence without its place comes last"
