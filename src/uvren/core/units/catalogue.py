"""Every form by its code."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from uvren.core.errors import BadUnit
from uvren.core.units.base import Form
from uvren.core.units.counted import CountedWork
from uvren.core.units.effort import EffortMinutes, SegmentEffort
from uvren.core.units.lifting import Lifting
from uvren.core.units.sensors import HeartRateLoad, ImpactLoad, PositionLoad

FORMS: dict[str, type[Form]] = {
    form.code: form
    for form in (EffortMinutes, SegmentEffort, CountedWork, Lifting, HeartRateLoad, PositionLoad, ImpactLoad)
}


def make_form(code: str, settings: Mapping[str, Any] | None = None) -> Form:
    """A form from its code and settings. Raises BadUnit with the path of the setting at fault."""
    try:
        form = FORMS[code]
    except KeyError:
        raise BadUnit(f"There is no form {code!r}; forms are {', '.join(FORMS)}.", field="form") from None
    return form.from_settings(settings or {})
