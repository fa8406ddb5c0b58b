"""Files put down, looked at and brought in, as the worker does it."""

import io
from dataclasses import replace

import pytest

from tests.conftest import NOW, TODAY
from uvren.services import files as imports
from uvren.services.return_.plans import By
from uvren.services.stamp import Stamp
from uvren.store.models import ImportState


@pytest.fixture
def by(squad):
    """A clinician who plans, today."""
    return By(clinician=True, plans=True, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


@pytest.fixture
def folder(tmp_path):
    return tmp_path / "uploads"


@pytest.fixture
def bring(db, squad, folder):
    """Put a file down, look at it, bring it in; returns the import."""

    def go(content, name="file.csv", change=None, **more):
        data = content if isinstance(content, bytes) else content.encode()
        put = imports.put_down(db, squad.squad, folder, name, io.BytesIO(data), stamp=Stamp(squad.staff.id, NOW))
        if put.state is not ImportState.LOOKED_AT:
            return put
        spec = imports.preview(db, squad.squad, folder / put.id, name, today=TODAY).spec
        spec = replace(spec, **more) if change is None else change(spec)
        imports.queue(db, squad.squad, put.id, spec)
        return imports.run(db, put.id, folder, now=NOW, today=TODAY)

    return go


@pytest.fixture
def looked(db, squad, folder):
    """How a file would be read, as it is looked at before it comes in."""

    def go(content, name="file.csv", spec=None):
        data = content if isinstance(content, bytes) else content.encode()
        put = imports.put_down(db, squad.squad, folder, name, io.BytesIO(data), stamp=Stamp(None, NOW))
        return imports.preview(db, squad.squad, folder / put.id, name, spec, today=TODAY)

    return go
