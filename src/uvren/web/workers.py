"""How gunicorn runs the web processes."""

import gc
from threading import Thread
from typing import Any

worker_class = "gthread"
# A browser may hold connections open that ask for nothing yet; each takes a thread.
threads = 64
graceful_timeout = 2
loglevel = "warning"
control_socket_disable = True
# Loaded once and forked: quicker to start than each process loading everything for itself.
preload_app = True


def post_fork(_server: Any, _worker: Any) -> None:
    """Load the arithmetic in the background, so that the first morning does not wait for it."""
    Thread(target=_load_arithmetic, daemon=True).start()


def _load_arithmetic() -> None:
    import scipy.ndimage
    import scipy.signal  # noqa: F401

    # What is loaded by now stays: the collector need not look through it again and again.
    gc.collect()
    gc.freeze()
