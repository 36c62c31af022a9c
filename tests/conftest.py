"""What every test may use: the shipped examples, and small classes made on the spot."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

import pytest
from django.conf import settings as django_settings
from django.core.management import call_command
from hypothesis import HealthCheck, settings
from places import EXAMPLES, ROOT
from pytest_django.plugin import DjangoDbBlocker

# before Django reads its settings: tests never touch the data an instructor has saved
os.environ["OAKEN_DATA"] = tempfile.mkdtemp(prefix="oaken-tests-")

settings.register_profile(
    "oaken", deadline=None, max_examples=60, derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("oaken")


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    """A test that fails is named at once, so that a run that is cut off still tells."""
    if report.failed:
        print(f"\nFAILED {report.nodeid} ({report.when})", file=sys.__stderr__, flush=True)


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> None:
    """The demo without the weeks of its course, loaded once a process; every test works on it in a transaction of its own.

    Passwords are hashed quickly here: what is tested is not how slow that is.
    """
    django_settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    with django_db_blocker.unblock():
        call_command("load_demo", without_weeks=True, verbosity=0)


@pytest.fixture(params=EXAMPLES)
def example(request: pytest.FixtureRequest) -> Path:
    """Each class file of the demo in turn."""
    return ROOT / "examples" / f"{request.param}.json"
