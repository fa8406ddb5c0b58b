"""A private MariaDB with the demo club, for a benchmark."""

import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from uvren.simulate.club import load_demo
from uvren.store.database import connect, migrate, sessions
from uvren.store.private_server import PrivateServer


@contextmanager
def demo_database() -> Iterator[str]:
    """Address of a database with the demo club; gone afterwards."""
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    server = PrivateServer(folder / "db")
    try:
        url = server.start()
        migrate(url)
        engine = connect(url)
        with sessions(engine)() as db:
            load_demo(db)
        engine.dispose()
        yield url
    finally:
        server.stop()
        shutil.rmtree(folder)
