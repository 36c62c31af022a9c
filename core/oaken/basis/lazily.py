"""Modules that take long to import, loaded when they are first used: most commands never search for a rotation."""

from __future__ import annotations

import sys
from importlib.util import LazyLoader, find_spec, module_from_spec
from typing import Any

_asked_for: list[str] = []


def when_used(name: str) -> Any:
    """A module that is loaded at the first access to one of its attributes. Raises ModuleNotFoundError where there is
    none of that name."""
    _asked_for.append(name)
    if name in sys.modules:
        return sys.modules[name]
    spec = find_spec(name)
    if spec is None or spec.loader is None:
        raise ModuleNotFoundError(name)
    spec.loader = LazyLoader(spec.loader)
    module = module_from_spec(spec)
    sys.modules[name] = module
    spec.loader.exec_module(module)
    return module


def load_all() -> None:
    """Load what was put off: a server does so before it answers, so that nobody waits for it later."""
    for name in _asked_for:
        dir(sys.modules[name])
