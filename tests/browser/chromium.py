"""Debian's Chromium, without anything that reaches for the network."""

import os

from playwright.sync_api import Browser, Playwright

QUIET = [
    *("--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"),
    *("--disable-component-update", "--disable-sync", "--disable-dev-shm-usage"),
]


def launch(playwright: Playwright) -> Browser:
    # Chromium's own sandbox cannot be used by root.
    flags = [*QUIET, "--no-sandbox"] if os.getuid() == 0 else QUIET
    return playwright.chromium.launch(executable_path="/usr/bin/chromium", args=flags)
