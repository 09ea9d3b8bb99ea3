"""The web server's way in."""

import os
from threading import Thread

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "urbanqueue.settings")
application = get_wsgi_application()

from flowcore.simulate import get_ready  # noqa: E402

Thread(target=get_ready, daemon=True).start()
