"""What every command of the server reads, read once before commands are forked: the libraries, the core and the
server's own modules. What follows from the environment is worked out anew in each fork, by `settle`."""

import importlib
import os
import sys
import tempfile
from typing import Any

from oaken.basis.lazily import load_all
from places import ROOT

sys.path[:0] = [str(ROOT / "core"), str(ROOT / "server")]
os.environ["DJANGO_SETTINGS_MODULE"] = "config.settings"
# settings keep a key in the folder of the data: this one is looked at by nobody
os.environ["OAKEN_DATA"] = tempfile.mkdtemp(prefix="oaken-warm-")

import django  # noqa: E402
from asgiref.local import Local  # noqa: E402
from django.conf import settings  # noqa: E402
from django.core.cache import caches  # noqa: E402
from django.db import connections  # noqa: E402

django.setup()
for name in ("config.urls", "django.core.asgi", "uvicorn", "uvicorn.protocols.http.h11_impl"):
    importlib.import_module(name)
load_all()


def settle() -> None:
    """In a fork: read the settings by the environment that is set now, and forget what followed from others."""
    module = sys.modules["config.settings"]
    importlib.reload(module)
    for name in dir(module):
        if name.isupper():
            setattr(settings, name, getattr(module, name))
    connections.close_all()
    handlers: list[Any] = [connections, caches]
    for handler in handlers:
        handler.__dict__.pop("settings", None)
        handler._settings = None
        handler._connections = Local(handler.thread_critical)
    django.setup()
