"""The web server's way in."""

import gc
import os
from threading import Thread

from django.conf import settings
from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "urbanqueue.settings")
application = get_wsgi_application()
assert settings.SECRET_KEY, "asking for it raises where there is none: nothing is served without"

from urbanqueue.api.aside import pulses, replays  # noqa: E402


def _get_ready() -> None:
    """Warm the engine up, and let the collector pass over the program: large documents are read twice as fast."""
    gc.freeze()
    pulses.get_ready()
    replays.get_ready()


Thread(target=_get_ready, daemon=True).start()
