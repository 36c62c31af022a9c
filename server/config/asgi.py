"""The application as uvicorn serves it."""

import gc
import os
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent.parent / "core"))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")

from django.core.asgi import get_asgi_application
from oaken.basis.lazily import load_all

from config.bodies import LimitedBodies

application = LimitedBodies(get_asgi_application())
load_all()

# what is loaded now stays: a forecast makes many short-lived objects, and looking through the long-lived ones each time
# they are collected would cost more than the forecast
gc.collect()
gc.freeze()
gc.set_threshold(20_000, 20, 20)
