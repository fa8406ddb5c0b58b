import shutil
import tempfile
from pathlib import Path

import pytest

from uvren.store.database import connect, sessions
from uvren.store.private_server import PrivateServer


@pytest.fixture(scope="package")
def demo(demo_folder):
    """The demo club as it is made, which no other test has used."""
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    shutil.copytree(demo_folder / "db", folder / "db")
    server = PrivateServer(folder / "db")
    engine = connect(server.start())
    with sessions(engine)() as db:
        yield db
    engine.dispose()
    server.stop()
    shutil.rmtree(folder)
