"""`python -m flowcore`."""

import sys

from flowcore.cli import main

sys.exit(main())
