"""``python -m sutaru``."""

import sys

from .command_line.main import main

sys.exit(main())
