import pytest

from uvren.store.database import connect, sessions


@pytest.fixture(scope="module")
def demo(served):
    engine = connect(served.database_url)
    with sessions(engine)() as db:
        yield db
    engine.dispose()
