"""The real thing: the built interface, served by uvicorn on a database of its own, in headless Chromium."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from browser import chromium
from screen import Screen
from selenium.webdriver import Chrome
from serving import serving, signed_in


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Everything in this folder drives the browser."""
    for item in items:
        if "browser" in Path(item.path).parent.name:
            item.add_marker(pytest.mark.browser)


@pytest.fixture(scope="session")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The address of a server that holds the demo and nothing else."""
    with serving(tmp_path_factory.mktemp("data"), dict(os.environ)) as (found, _):
        yield found


@pytest.fixture(scope="session")
def session(address: str) -> str:
    """The demo's instructor, signed in."""
    return signed_in(address)


@pytest.fixture(scope="session")
def _driver() -> Iterator[Chrome]:
    with chromium() as driver:
        yield driver


@pytest.fixture
def screen(_driver: Chrome, address: str, session: str) -> Iterator[Screen]:
    """A browser that remembers nothing of the test before, with the demo's instructor signed in; whatever it logs as
    an error fails the test."""
    # the page of the test before is left first, so that it keeps nothing any more
    _driver.get("about:blank")
    _driver.execute_cdp_cmd("Storage.clearDataForOrigin", {"origin": address, "storageTypes": "all"})
    _driver.get_log("browser")
    here = Screen(_driver, address)
    here.enter(session)
    yield here
    errors = [entry["message"] for entry in _driver.get_log("browser") if entry["level"] == "SEVERE"]
    expected = ("status of 409", "status of 422", "status of 401", "status of 404", "status of 413")
    assert [error for error in errors if not any(words in error for words in expected)] == []
