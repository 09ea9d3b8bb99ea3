"""What can be done with runs: start, stop, go on, delete."""

from collections.abc import Iterator, Mapping, Sequence
from types import MappingProxyType

from django.db import transaction
from django.db.models import Max, QuerySet
from django.utils import timezone

from flowcore.engine import ENGINE
from flowcore.problems import Problem, StudyError, error_at
from flowcore.simulate import require_sound
from flowcore.study import RunSettings, StudyDocument, read_study, written
from flowcore.study.scenarios import BASELINE, apply_scenario, scenario_name
from urbanqueue.accounts.models import Person
from urbanqueue.runs.locks import locked
from urbanqueue.runs.models import Part, Run
from urbanqueue.runs.progress import settle, stop
from urbanqueue.runs.queue import hand_out
from urbanqueue.runs.samples import forget_samples, rows_of, sample_of
from urbanqueue.studies.actions import current_version, document_of
from urbanqueue.studies.models import Study, Version

MOST_REPLICATIONS = 10_000


def start_run(
    study: Study,
    person: Person | None = None,
    scenarios: Sequence[str] | None = None,
    settings: RunSettings | None = None,
) -> Run:
    """Start a run of a study's current version: of these scenarios, by default of the baseline and all others.

    Without settings it is run as its document says. What has been run before is read from there. Raises StudyError
    where a scenario is not there or has errors.
    """
    version = current_version(study)
    run = make_run(version, person, documents_of(version, scenarios, settings))
    _go(run)
    return run


def documents_of(
    version: Version, scenarios: Sequence[str] | None, settings: RunSettings | None
) -> dict[str, StudyDocument]:
    """Return the documents that a run of some scenarios of a version runs, by scenario; see `start_run`."""
    study = document_of(version)
    chosen = [BASELINE, *(each.id for each in study.scenarios)] if scenarios is None else scenarios
    return sound_scenarios(study, chosen, settings or study.run)


@transaction.atomic
def make_run(
    version: Version,
    person: Person | None,
    documents: dict[str, StudyDocument],
    number: int | None = None,
    wanted: Mapping[str, int] = MappingProxyType({}),
) -> Run:
    """Make a run of documents by scenario, with so many replications `wanted`, by default as they say.

    Without a number it gets the next one. Nothing is handed out yet.
    """
    whole = document_of(version)
    settings = next(iter(documents.values())).run
    study = Study.objects.select_for_update().get(pk=version.study_id)
    latest = Run.objects.filter(version__study=study).aggregate(Max("number"))["number__max"]
    run = Run.objects.create(
        version=version,
        number=number or (latest or 0) + 1,
        settings=settings.model_dump(mode="json", exclude={"doors"}),
        started_by=person,
        engine=ENGINE,
    )
    for place, (scenario, document) in enumerate(documents.items()):
        sample = sample_of(study, document)
        part = Part(run=run, place=place, scenario=scenario, name=scenario_name(whole, scenario), sample=sample)
        part.replications = wanted.get(scenario, settings.replications)
        part.done = part.stored = rows_of(part).count()
        part.save()
    return run


def sound_scenarios(study: StudyDocument, scenarios: Sequence[str], settings: RunSettings) -> dict[str, StudyDocument]:
    """Return the study as each of some scenarios has it, with the settings of the run but its own doors.

    Raises StudyError with what is wrong in each of them.
    """
    if not scenarios:
        raise StudyError([error_at("scenarios", "No scenario is chosen.", "Choose what is to be run.")])
    found: dict[str, StudyDocument] = {}
    problems: list[Problem] = []
    for scenario in dict.fromkeys(scenarios):
        try:
            changed = apply_scenario(study, scenario)
            own = settings.model_copy(update={"doors": changed.run.doors})
            found[scenario] = changed.model_copy(update={"run": own})
            require_sound(found[scenario])
        except StudyError as error:
            problems += _told_at(study, scenario, error.problems)
    if problems:
        raise StudyError(problems)
    return found


def _told_at(study: StudyDocument, scenario: str, problems: list[Problem]) -> Iterator[Problem]:
    """Yield problems so that they say of which scenario they are."""
    name = next((each.name for each in study.scenarios if each.id == scenario), None)
    for each in problems:
        where = each.where if name is None else f"scenarios/{scenario}"
        yield each.model_copy(update={"where": where, "what": each.what if name is None else f"{name}: {each.what}"})


@transaction.atomic
def _go(run: Run) -> None:
    """Let the replications that lack be drawn; a run that lacks none is over at once."""
    settle(Run.objects.select_for_update().get(pk=run.pk))
    hand_out()
    run.refresh_from_db()


def stop_run(run: Run) -> None:
    """Stop a run and keep what is done."""
    if stop(run):
        hand_out()


def go_on(run: Run, replications: int) -> None:
    """Go on with a run that is over until each part has so many replications, or more where it has more already.

    Parts that failed are tried again. Raises StudyError where another engine would have to go on.
    """
    _require_engine(run)
    if not 1 <= replications <= MOST_REPLICATIONS:
        what = f"{replications} replications cannot be run."
        raise StudyError([error_at("replications", what, f"Give 1 to {MOST_REPLICATIONS:,}.")])
    with transaction.atomic():
        locked = _over(run)
        for part in locked.parts.all():
            part.replications = max(part.replications if part.kept is None else 0, replications)
            part.kept, part.problem = None, ""
            part.save(update_fields=["replications", "kept", "problem"])
        locked.state, locked.finished_at, locked.finding = Run.State.WAITING, None, None
        locked.begun_at = timezone.now()
        locked.settings |= {"replications": replications}
        locked.save()
    _go(run)


@transaction.atomic
def work_out(run: Run) -> None:
    """Draw the replications of a run that is over again, from their seed, with the study's own measures as they are.

    The run is read as it is until they are done; see `hand_over`. Raises StudyError where another engine would have to
    draw them, or where a measure does not fit the study as it was run.
    """
    _require_engine(run)
    locked = _over(run)
    Run.objects.filter(redraws=locked).delete()
    settings = locked.settings | {"precision": None}
    again = Run.objects.create(
        version=locked.version, number=locked.number, redraws=locked, settings=settings, engine=ENGINE, finding=""
    )
    for part, document in _with_own_measures(locked):
        wanted = part.replications if part.kept is None else max(part.kept) + 1
        sample = sample_of(locked.version.study, document)
        Part.objects.create(
            run=again, place=part.place, scenario=part.scenario, name=part.name, sample=sample, replications=wanted
        )
    settle(again)
    hand_out()


def _with_own_measures(run: Run) -> list[tuple[Part, StudyDocument]]:
    """Return the parts of a run that can be read, each with its study and the measures that this has now."""
    measures = written(document_of(current_version(run.version.study))).get("measures", [])
    found: list[tuple[Part, StudyDocument]] = []
    problems: list[Problem] = []
    for part in run.parts.select_related("sample").filter(done__gt=0):
        try:
            document = read_study({**part.sample.document, "measures": measures})
            require_sound(document)
            found.append((part, document))
        except StudyError as error:
            problems += _told_at(document_of(run.version), part.scenario, error.problems)
    if problems:
        raise StudyError(problems)
    return found


@transaction.atomic
def stop_working_out(run: Run) -> None:
    """Leave a run as it is."""
    for again in Run.objects.filter(redraws=run):
        stop(again)
        again.delete()
    hand_out()


def _require_engine(run: Run) -> None:
    if run.engine != ENGINE:
        what = f"The run was made by version {run.engine} of the engine, which is not at hand any more."
        raise StudyError([error_at("run", what, "Run the study again.")])


def _over(run: Run) -> Run:
    """Return a run under lock; raise StudyError where it is not over."""
    locked = Run.objects.select_for_update().get(pk=run.pk)
    if not locked.is_over:
        raise StudyError([error_at("run", "The run is still under way.", "Stop it first, or wait for its end.")])
    if Run.objects.filter(redraws=locked, finished_at=None).exists():
        raise StudyError([error_at("run", "Its own measures are being worked out.", "Stop that, or wait for its end.")])
    return locked


@transaction.atomic
def delete_run(run: Run) -> None:
    """Take a run away for good, and what no other run reads."""
    stop(run)
    stop_working_out(run)
    study = run.version.study
    locked(run.parts.all())
    run.delete()
    forget_samples(study)


def runs_of(study: Study) -> QuerySet[Run]:
    """Return the runs of a study, without its documents."""
    runs = Run.objects.filter(version__study=study, redraws=None).select_related("version", "started_by", "redrawn_by")
    return runs.prefetch_related("parts", "redrawn_by__parts").defer("version__document")
