"""What all tests share."""

import os

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")
