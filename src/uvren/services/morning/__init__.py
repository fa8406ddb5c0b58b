"""The morning desk: lanes of a squad, and the evidence behind each."""

from uvren.services.morning.evidence import Evidence, called_load, read_evidence
from uvren.services.morning.lanes import Lane, Morning, read_morning

__all__ = ["Evidence", "Lane", "Morning", "called_load", "read_evidence", "read_morning"]
