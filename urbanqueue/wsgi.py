"""The web server's way in."""

import gc
import os
from threading import Thread

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "urbanqueue.settings")
application = get_wsgi_application()

from flowcore.simulate import get_ready  # noqa: E402


def _get_ready() -> None:
    """Warm the engine up, and let the collector pass over the program: large documents are read twice as fast."""
    get_ready()
    gc.freeze()


Thread(target=_get_ready, daemon=True).start()
