"""`manage.py load_demo`: the demo person and Port Alder's studies with their logs, once."""

import json
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from flowcore.study import read_study
from urbanqueue.accounts.models import Person
from urbanqueue.logs.demo import bring_demo_logs
from urbanqueue.studies.actions import create_study
from urbanqueue.studies.models import Study

EMAIL = "analyst@portalder.example"
PASSWORD = "port-alder"


class Command(BaseCommand):
    """Loads what is not there yet; what is there stays as it is, even where it was changed or deleted."""

    help = "Create the demo person and studies where they are not there yet."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--migrate", action="store_true", help="bring the database up to date first")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["migrate"]:
            call_command("migrate", verbosity=0)
        person = Person.objects.filter(email=EMAIL).first()
        if person is None:
            person = Person.objects.create_person(EMAIL, PASSWORD, name="Demo analyst")
        for file in sorted((settings.ROOT / "demo").glob("*.json")):
            document = read_study(json.loads(file.read_text(encoding="utf-8")))
            first_versions = Study.objects.filter(owner=person, versions__number=1)
            if not first_versions.filter(versions__document__name=document.name).exists():
                bring_demo_logs(create_study(person, document), document)
                self.stdout.write(f"Loaded {document.name}.")
