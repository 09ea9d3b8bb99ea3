"""`manage.py openapi`: print the API's description."""

import json
from typing import Any

from django.core.management.base import BaseCommand

from urbanqueue.api.router import api


class Command(BaseCommand):
    """Prints the OpenAPI document."""

    help = "Print the OpenAPI document."
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(json.dumps(api.get_openapi_schema(path_prefix="/api/"), indent=1))
