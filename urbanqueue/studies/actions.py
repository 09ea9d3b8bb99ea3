"""What can be done with studies."""

from datetime import datetime, timedelta
from functools import lru_cache

from django.db import transaction
from django.utils import timezone

from flowcore.checks import check_study
from flowcore.problems import Problem, StudyError
from flowcore.study import StudyDocument, read_study, written
from flowcore.study.differences import change_summary
from flowcore.study.formats import brought_up
from flowcore.study.merging import merged
from urbanqueue.accounts.models import Person
from urbanqueue.studies.models import Study, Version


class Conflict(Exception):
    """Raised where a document was saved on top of a version that is no longer the current one."""

    def __init__(self, current: Version) -> None:
        super().__init__(f"The current version is {current.number}.")
        self.current = current


FOLDED_WITHIN = timedelta(minutes=10)
FOLDED_KEPT = 5
"""So many of the last folded versions are kept for a while: somebody may still be editing on top of them."""
DAYS_UNTIL_SWEPT = 30


@transaction.atomic
def create_study(owner: Person, document: StudyDocument) -> Study:
    """Create a study whose first version is this document."""
    study = Study.objects.create(owner=owner, name=document.name, version=1)
    Version.objects.create(study=study, number=1, document=written(document), changed="Made", saved_by=owner)
    return study


@transaction.atomic
def save_document(
    study_id: int, expected: int, document: StudyDocument, person: Person, restores: int | None = None
) -> Version:
    """Save a document on top of the version that it was made from.

    `restores` is the number of the older version that it was taken from, if any. Returns the current version
    unchanged where nothing differs. Raises Conflict where another one has been saved since.
    """
    study = Study.objects.select_for_update().get(pk=study_id)
    current = current_version(study)
    text = written(document)
    if brought_up(current.document) == text:
        return current
    if study.version != expected:
        raise Conflict(current)
    if restores is not None and version_numbered(study, restores) is None:
        restores = None
    folds = restores is None and _can_be_folded(current, person)
    before = _before(current) if folds else current
    changed = f"Version {restores} restored" if restores else change_summary(document_of(before), document)
    study.version += 1
    study.name = document.name
    study.save()
    if folds:
        Version.objects.filter(pk=current.pk).update(folded=True)
        _forget_folded(study)
    return Version.objects.create(
        study=study,
        number=study.version,
        document=text,
        changed=changed,
        saved_by=person,
        since=current.since if folds else timezone.now(),
        restores=restores,
    )


def _forget_folded(study: Study) -> None:
    """Take away folded versions but for the last few, at every few saves."""
    if study.version % FOLDED_KEPT == 0:
        old = study.versions.filter(folded=True, number__lte=study.version - FOLDED_KEPT, runs=None, searches=None)
        old.only("pk").delete()


def _can_be_folded(version: Version, person: Person) -> bool:
    """Say whether a version may give way to the person's next one: theirs, new, and with nothing that refers to it."""
    is_new = version.since > timezone.now() - FOLDED_WITHIN
    is_special = version.number == 1 or version.restores is not None
    is_referred_to = version.runs.exists() or version.searches.exists()
    return is_new and version.saved_by_id == person.pk and not is_special and not is_referred_to


def _before(version: Version) -> Version:
    """Return the entry of the history before a version."""
    return version.study.versions.filter(folded=False, number__lt=version.number).latest("number")


def version_numbered(study: Study, number: int) -> Version | None:
    """Return the version of this number, or None where there is none."""
    return study.versions.filter(number=number).first()


def both(base: Version | None, theirs: Version, mine: StudyDocument) -> tuple[StudyDocument | None, list[str]]:
    """Return a document with both sides' changes (None where that makes no sense) and the places where they clash."""
    found, clashes = merged(brought_up(base.document) if base else {}, brought_up(theirs.document), written(mine))
    try:
        return read_study(found), clashes
    except StudyError:
        return None, clashes


def current_version(study: Study) -> Version:
    """Return the version that is current."""
    return study.versions.get(number=study.version)


def document_of(version: Version) -> StudyDocument:
    """Return a version's document as flowcore reads it."""
    return read_study(version.document)


@lru_cache(maxsize=200)
def problems_of(version_id: int) -> list[Problem]:
    """Return what is wrong or doubtful in a version, which never changes; also where it can no longer be read."""
    try:
        return check_study(document_of(Version.objects.get(pk=version_id)))
    except StudyError as error:
        return error.problems


def delete_study(study: Study) -> None:
    """Take a study away; it can be restored."""
    study.deleted_at = timezone.now()
    study.save(update_fields=["deleted_at"])


def restore_study(study: Study) -> None:
    """Bring a deleted study back."""
    study.deleted_at = None
    study.save(update_fields=["deleted_at"])


def restorable_until(study: Study) -> datetime:
    """Return when a deleted study is taken away for good."""
    return (study.deleted_at or timezone.now()) + timedelta(days=DAYS_UNTIL_SWEPT)


def copy_study(study: Study, person: Person) -> Study:
    """Create a study of one's own with the same document under a name that says so."""
    document = document_of(current_version(study))
    return create_study(person, document.model_copy(update={"name": f"{document.name[:110]} (copy)"}))


def sweep_studies() -> None:
    """Take away for good what was deleted long ago."""
    long_ago = timezone.now() - timedelta(days=DAYS_UNTIL_SWEPT)
    Study.objects.filter(deleted_at__lt=long_ago).delete()
