"""What can be done with studies."""

from django.db import transaction
from django.utils import timezone

from flowcore.problems import StudyError
from flowcore.study import Study as Document
from flowcore.study import read_study, written
from flowcore.study.differences import in_a_line
from flowcore.study.merging import merged
from urbanqueue.accounts.models import Person
from urbanqueue.studies.models import Study, Version


class Conflict(Exception):
    """Raised where a document was saved on top of a version that is no longer the current one."""

    def __init__(self, current: Version) -> None:
        super().__init__(f"The current version is {current.number}.")
        self.current = current


@transaction.atomic
def create_study(owner: Person, document: Document) -> Study:
    """Create a study whose first version is this document."""
    study = Study.objects.create(owner=owner, name=document.name)
    _add_version(study, document, owner, "Made")
    return study


@transaction.atomic
def save_document(study_id: int, expected: int, document: Document, person: Person) -> Version:
    """Save a document on top of the version that it was made from.

    Returns the current version unchanged where nothing differs. Raises Conflict where another one
    has been saved since.
    """
    study = Study.objects.select_for_update().get(pk=study_id)
    current = current_version(study)
    if current.document == written(document):
        return current
    if study.version != expected:
        raise Conflict(current)
    return _add_version(study, document, person, in_a_line(document_of(current), document))


def version_numbered(study: Study, number: int) -> Version | None:
    """Return the version of this number, or None where there is none."""
    return study.versions.filter(number=number).first()


def both(base: Version | None, theirs: Version, mine: Document) -> tuple[Document | None, list[str]]:
    """Return a document with both sides' changes (None where that makes no sense) and the places where they clash."""
    found, clashes = merged(base.document if base else {}, theirs.document, written(mine))
    try:
        return read_study(found), clashes
    except StudyError:
        return None, clashes


def current_version(study: Study) -> Version:
    """Return the version that is current."""
    return study.versions.get(number=study.version)


def document_of(version: Version) -> Document:
    """Return a version's document as flowcore reads it."""
    return read_study(version.document)


def delete_study(study: Study) -> None:
    """Take a study away; it can be restored."""
    study.deleted_at = timezone.now()
    study.save(update_fields=["deleted_at"])


def restore_study(study: Study) -> None:
    """Bring a deleted study back."""
    study.deleted_at = None
    study.save(update_fields=["deleted_at"])


def copy_study(study: Study, person: Person) -> Study:
    """Create a study of one's own with the same document under a name that says so."""
    document = document_of(current_version(study))
    return create_study(person, document.model_copy(update={"name": f"{document.name[:110]} (copy)"}))


def _add_version(study: Study, document: Document, person: Person, changed: str) -> Version:
    study.version += 1
    study.name = document.name
    study.save()
    return Version.objects.create(
        study=study, number=study.version, document=written(document), changed=changed, saved_by=person
    )
