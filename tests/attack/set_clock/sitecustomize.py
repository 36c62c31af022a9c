"""A machine whose clock is set while a server runs: the server's time is off by the seconds that a file says.

A stand-in for setting the machine's real clock, which no test may do. Python imports this module by itself at its start
where this folder is on its path.
"""

import os
from datetime import datetime, timedelta
from pathlib import Path

from django.utils import timezone

_file = Path(os.environ["OAKEN_TEST_CLOCK"])
_real = timezone.now


def _set() -> datetime:
    off_s = float(_file.read_text(encoding="ascii") or 0) if _file.exists() else 0.0
    return _real() + timedelta(seconds=off_s)


timezone.now = _set
