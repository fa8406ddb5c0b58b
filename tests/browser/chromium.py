"""Debian's headless Chromium, without anything that reaches for the network.

Its shell without a window of its own: the same engine in two thirds of the processor time.
"""

import os
import signal
import uuid
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, BrowserContext, Playwright

QUIET = [
    *("--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"),
    *("--disable-component-update", "--disable-sync", "--disable-dev-shm-usage"),
]


def launch(playwright: Playwright, *more: str) -> Browser:
    # Chromium's own sandbox cannot be used by root.
    flags = [*QUIET, "--no-sandbox"] if os.getuid() == 0 else QUIET
    return playwright.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=[*flags, *more])


class Renewed:
    """A browser that is begun anew from time to time, so that the pages of many tests do not pile up.

    It is not asked to close its pages: once in a while it never answers.
    """

    def __init__(self, playwright: Playwright) -> None:
        self._playwright = playwright
        self._begin()

    def _begin(self) -> None:
        # A flag that Chromium does not know, to tell which process is ours.
        self._mark = f"--tests={uuid.uuid4().hex}"
        self._browser = launch(self._playwright, self._mark)
        self._contexts = 0

    def new_context(self, **wanted: Any) -> BrowserContext:
        self._contexts += 1
        return self._browser.new_context(**wanted)

    def renew(self) -> None:
        if self._contexts:
            self.end()
            self._begin()

    def end(self) -> None:
        for process in Path("/proc").glob("[0-9]*"):
            try:
                said = (process / "cmdline").read_bytes().decode(errors="replace").split("\0")
            except OSError:
                continue
            if self._mark in said and not any(one.startswith("--type=") for one in said):
                os.kill(int(process.name), signal.SIGKILL)
