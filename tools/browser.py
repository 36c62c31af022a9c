"""Headless Chromium for tests and pictures: Debian's own browser and driver, no network but this machine."""

from __future__ import annotations

import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager

from selenium.webdriver import Chrome, ChromeOptions, ChromeService

QUIET = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--disable-dev-shm-usage",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-extensions",
    "--no-first-run",
    "--no-default-browser-check",
    "--hide-scrollbars",
    "--force-color-profile=srgb",
    "--font-render-hinting=none",
)


@contextmanager
def chromium(
    width: int = 1280, height: int = 800, *, phone: bool = False, profile: str = "", more: tuple[str, ...] = ()
) -> Iterator[Chrome]:
    """A browser with a page of exactly this size; closed at the end. Its profile is empty and cleaned away, or that
    of the folder `profile`, which stays; `more` are further switches of Chromium.

    Raises RuntimeError naming the Debian package when the browser or its driver is not installed.
    """
    programs = {}
    for program, package in (("chromium", "chromium"), ("chromedriver", "chromium-driver")):
        found = shutil.which(program)
        if found is None:
            raise RuntimeError(f"{program} is not installed: install Debian's package {package}")
        programs[program] = found
    options = ChromeOptions()
    options.binary_location = programs["chromium"]
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as empty:
        for argument in (*QUIET, *more, f"--user-data-dir={profile or empty}", f"--window-size={width},{height}"):
            options.add_argument(argument)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        driver = Chrome(options=options, service=ChromeService(programs["chromedriver"]))
        try:
            metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": phone}
            driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
            yield driver
        finally:
            driver.quit()
