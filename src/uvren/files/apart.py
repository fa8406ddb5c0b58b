"""Files are read in a process of their own: one that is made to eat memory or time ends that process and nothing else.

The process is forked from a server of forks that has the readers loaded, holds no connection and has no threads.
"""

from __future__ import annotations

import multiprocessing
import os
import resource
from collections.abc import Callable
from functools import cache
from multiprocessing.connection import Connection
from multiprocessing.context import ForkServerContext
from multiprocessing.process import BaseProcess
from threading import BoundedSemaphore
from typing import Any, ParamSpec, TypeVar

from uvren.files.errors import BadFile

# The largest files that are taken (``safety``) need about a third of this.
MOST_MEMORY = 3 * 1024 * 1024 * 1024
# So many are read at once by one process of ours, whoever asks; the others wait for their turn.
AT_ONCE = 2
LOOK_SECONDS, READ_SECONDS = 20.0, 180.0
# Loaded once, before any is forked. Named, not imported: what reads a file by its mapping stands above this.
_READERS = ["uvren.services.files.read_file", "uvren.files.force"]
_turns = BoundedSemaphore(AT_ONCE)

P = ParamSpec("P")
T = TypeVar("T")


def apart(seconds: float, read: Callable[P, T], *args: P.args, **kwargs: P.kwargs) -> T:
    """What ``read`` returns, worked out in a process of its own with limits; arguments and answer are pickled.

    Raises BadFile where it took more memory or more ``seconds`` than any file we take, or ended its process; and what
    ``read`` raised.
    """
    ours, theirs = _forks().Pipe(duplex=False)
    process = _forks().Process(target=_answer, args=(theirs, read, args, kwargs), daemon=True)
    with _turns:
        process.start()
        theirs.close()
        return _answered(ours, process, seconds)


def _answered(ours: Connection, process: BaseProcess, seconds: float) -> Any:
    try:
        if not ours.poll(seconds):
            raise BadFile(f"Reading this file takes more than {seconds:.0f} seconds. It was not read.")
        well, said = ours.recv()
    except EOFError:
        raise BadFile("This file ended the program that read it: it is damaged, or made to do so.") from None
    finally:
        ours.close()
        process.kill()
        process.join()
        process.close()
    if well:
        return said
    raise said


@cache
def _forks() -> ForkServerContext:
    forks = multiprocessing.get_context("forkserver")
    forks.set_forkserver_preload(_READERS)
    return forks


def _answer(to: Connection, read: Callable[..., Any], args: Any, kwargs: Any) -> None:
    """In the process apart."""
    resource.setrlimit(resource.RLIMIT_DATA, (MOST_MEMORY, MOST_MEMORY))
    # What a process says as it breaks, and its core, would hold people's health.
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    os.dup2(os.open(os.devnull, os.O_WRONLY), 2)
    try:
        to.send((True, read(*args, **kwargs)))
    except MemoryError:
        to.send((False, BadFile("This file takes more memory than any recording does. It was not read.")))
    except RecursionError:
        to.send((False, BadFile("This file is nested deeper than any table is. It was not read.")))
    except Exception as error:
        to.send((False, error))
